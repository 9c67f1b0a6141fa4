"""What the loop does, told over the serial line where a person has switched that on."""

from __future__ import annotations

SWITCH = """\
/* Take the marks of the remark away, and the loop tells over the serial line, at 115200 baud, which frame
 * it shows, how many there was no time for, and what each knob and input reads. */
/* #define LANTERN_TELL */
"""
C = """\
#ifdef LANTERN_TELL
static void tell_text(const char *text)
{
    while (*text) {
        serial_send((uint8_t)*text++);
    }
}

static void tell_number(uint32_t number)
{
    char figures[11];
    uint8_t at = 10;
    figures[at] = 0;
    do {
        figures[--at] = (char)('0' + (char)(number % 10u));
        number /= 10u;
    } while (number != 0);
    tell_text(&figures[at]);
}
#endif
"""
FRAME = """\
#ifdef LANTERN_TELL
        tell_text("frame ");
        tell_number(frame_number);
        tell_text(", left out ");
        tell_number(left_out);
{knobs}        tell_text("\\r\\n");
#endif
"""
KNOB = """\
        tell_text(", {words} ");
        tell_number(pin_counts({pin}));
"""
INPUT = """\
        tell_text(", {words} ");
        tell_number(lantern_read({at}));
"""
