"""How warm a part becomes."""

from __future__ import annotations


def junction_c(heat_w: float, ambient_c: float, theta_k_per_w: float) -> float:
    """Temperature of a part's junction: ``T = T_amb + P · θ_JA``  (1). [°C]

    Args:
        heat_w: the heat that it makes. [W]
        ambient_c: temperature of the air around it. [°C]
        theta_k_per_w: thermal resistance from junction to air. [K/W]

    Source: the thermal resistance model of any data sheet.
    """
    return ambient_c + heat_w * theta_k_per_w  # (1)
