"""Resistance of copper conductors."""

from __future__ import annotations

RHO_20_OHM_MM2_PER_M = 1 / 58
ALPHA_20_PER_K = 0.00393
CLASS_5_OHM_PER_M = {
    0.5: 0.0390, 0.75: 0.0260, 1.0: 0.0195, 1.5: 0.0133, 2.5: 0.00798, 4.0: 0.00495, 6.0: 0.00330, 10.0: 0.00191,
}  # fmt: skip


def resistance_at(ohm_20: float, temperature_c: float) -> float:
    """Resistance of annealed copper at another temperature. [ohm]

    ``R(T) = R20 · (1 + α·(T − 20))``  (1), good from about −50 to 200 °C.

    Args:
        ohm_20: resistance at 20 °C. [ohm]
        temperature_c: temperature. [°C]

    Source: IEC 60028.
    """
    return ohm_20 * (1 + ALPHA_20_PER_K * (temperature_c - 20))  # (1)


def solid_ohm_per_m(area_mm2: float) -> float:
    """Resistance of a solid annealed copper conductor at 20 °C. [ohm/m]

    Args:
        area_mm2: cross-section. [mm²]

    Raises:
        ValueError: the cross-section is not positive.

    Source: IEC 60028, resistivity 1/58 Ω·mm²/m.
    """
    if area_mm2 <= 0:
        raise ValueError("cross-section must be positive")
    return RHO_20_OHM_MM2_PER_M / area_mm2


def flexible_ohm_per_m(area_mm2: float) -> float:
    """Largest resistance of a plain flexible metric conductor at 20 °C. [ohm/m]

    Listed sizes come from the standard's table; others take the solid value and 8 % for stranding.

    Args:
        area_mm2: nominal cross-section. [mm²]

    Source: IEC 60228, class 5.
    """
    return CLASS_5_OHM_PER_M.get(area_mm2, solid_ohm_per_m(area_mm2) * 1.08)


def end_fed_drop(pixels: int, pitch_m: float, loop_ohm_per_m: float, pixel_a: float) -> float:
    """Voltage lost between the fed end and the far pixel of a uniform strip, from a closed form. [V]

    Every pixel draws the same current, so the rails carry a staircase from ``pixels · pixel_a`` to zero and the
    losses sum to a square: ``r/2 · p · I · N²``  (1).

    Args:
        pixels: number of pixels N. [-]
        pitch_m: distance between pixels. [m]
        loop_ohm_per_m: positive plus return rail. [ohm/m]
        pixel_a: current of one pixel. [A]

    Raises:
        ValueError: a quantity is negative.

    Source: superposition on a discrete ladder; any circuits text.
    """
    if min(pixels, pitch_m, loop_ohm_per_m, pixel_a) < 0:
        raise ValueError("quantities of a ladder cannot be negative")
    return loop_ohm_per_m / 2 * pitch_m * pixel_a * pixels**2  # (1)
