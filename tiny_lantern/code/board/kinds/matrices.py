"""Rows of a matrix that are lit one after another."""

from __future__ import annotations

from tiny_lantern.code.board.text import Text

TYPE = """\
/* Rows that are lit one after another. Columns are outputs of the chain, low while they are lit;
 * rows are outputs after them, or those of a counter that a pin steps. With more than one bit a
 * row's time is shared among the bits. */
typedef struct {
    lines_t lines;
    uint16_t count; /* outputs of the chain */
    uint8_t rows, columns;
    uint16_t rows_from; /* the output of the first row, NO_ROWS where a counter steps them */
    uint8_t row_low;
    const LANTERN_FLASH int16_t *channels; /* row after row */
    uint8_t bits;
    uint32_t row_us, blank_us;
    uint8_t step, reset; /* pins of the counter, NO_PIN where there is none */
} matrix_t;
"""
C = """\
static uint8_t matrix_row[MATRICES], matrix_bit[MATRICES];
static uint32_t matrix_due[MATRICES];

/* One bit of a row; a row beyond the last leaves all dark. */
static void send_row(const LANTERN_FLASH matrix_t *one, uint8_t row, uint8_t bit)
{
    const uint16_t full = (uint16_t)((UINT32_C(1) << one->bits) - 1u);
    uint16_t at = one->count;
    while (at > 0) {
        uint8_t level = 0;
        at--;
        if (at < one->columns) {
            level = 1;
            if (row < one->rows) {
                const int16_t channel = one->channels[row * one->columns + at];
                level = !(channel != DARK && ((in_steps(asked[channel], full) >> bit) & 1));
            }
        } else if (at >= one->rows_from && at < one->rows_from + one->rows) {
            level = (at - one->rows_from == row) != one->row_low;
        }
        send_bit(&one->lines, level);
    }
    latch(&one->lines);
}

static void count_on(const LANTERN_FLASH matrix_t *one, uint8_t row)
{
    if (one->step == NO_PIN) {
        return;
    }
    if (row == 0 && one->reset != NO_PIN) {
        pin_set(one->reset, 1);
        pin_set(one->reset, 0);
        return;
    }
    pin_set(one->step, 1);
    pin_set(one->step, 0);
}

static void step_matrices(uint32_t now)
{
    uint16_t at;
    for (at = 0; at < MATRICES; at++) {
        const LANTERN_FLASH matrix_t *one = &matrices[at];
        const uint32_t lit_us = one->row_us - one->blank_us;
        if (!due(now, matrix_due[at])) {
            continue;
        }
        if (matrix_bit[at] == one->bits) { /* the row is over */
            matrix_bit[at] = 0;
            matrix_row[at] = (uint8_t)((matrix_row[at] + 1) % one->rows);
            if (one->blank_us != 0 || one->step != NO_PIN) {
                send_row(one, ALL_DARK, 0);
            }
            count_on(one, matrix_row[at]);
            if (one->blank_us != 0) {
                matrix_due[at] += one->blank_us;
                continue;
            }
        }
        send_row(one, matrix_row[at], matrix_bit[at]);
        matrix_due[at] += (lit_us << matrix_bit[at]) / ((UINT32_C(1) << one->bits) - 1u);
        if (due(now, matrix_due[at])) {
            matrix_due[at] = now;
        }
        matrix_bit[at]++;
    }
}

static void begin_matrices(uint32_t now)
{
    uint16_t at;
    for (at = 0; at < MATRICES; at++) {
        send_row(&matrices[at], ALL_DARK, 0);
        matrix_row[at] = (uint8_t)(matrices[at].rows - 1);
        matrix_bit[at] = matrices[at].bits;
        matrix_due[at] = now;
    }
}

"""
PYTHON = '''
matrix_row = [0] * len(MATRICES)
matrix_bit = [0] * len(MATRICES)
matrix_due = [0] * len(MATRICES)


def send_row(matrix, row, bit):
    """One bit of a row; no row leaves all dark."""
    lines, count, rows, columns, rows_from, row_low, channels, bits = matrix[:8]
    full = (1 << bits) - 1
    for at in reversed(range(count)):
        level = 0
        if at < columns:
            channel = DARK if row is None else channels[row * columns + at]
            level = not (channel != DARK and in_steps(asked[channel], full) >> bit & 1)
        elif rows_from is not None and rows_from <= at < rows_from + rows:
            level = (at - rows_from == row) != row_low
        send_bit(lines, level)
    latch(lines)


def count_on(matrix, row):
    step, reset = matrix[10], matrix[11]
    if step is None:
        return
    pin = reset if row == 0 and reset is not None else step
    pins.pin_set(pin, 1)
    pins.pin_set(pin, 0)


def step_matrices(now):
    for at, matrix in enumerate(MATRICES):
        rows, bits, row_us, blank_us, step = matrix[2], matrix[7], matrix[8], matrix[9], matrix[10]
        if not due(now, matrix_due[at]):
            continue
        if matrix_bit[at] == bits:  # the row is over
            matrix_bit[at] = 0
            matrix_row[at] = (matrix_row[at] + 1) % rows
            if blank_us or step is not None:
                send_row(matrix, None, 0)
            count_on(matrix, matrix_row[at])
            if blank_us:
                matrix_due[at] += blank_us
                continue
        send_row(matrix, matrix_row[at], matrix_bit[at])
        matrix_due[at] += ((row_us - blank_us) << matrix_bit[at]) // ((1 << bits) - 1)
        if due(now, matrix_due[at]):
            matrix_due[at] = now
        matrix_bit[at] += 1


def begin_matrices(now):
    for at, matrix in enumerate(MATRICES):
        send_row(matrix, None, 0)
        matrix_row[at], matrix_bit[at], matrix_due[at] = matrix[2] - 1, matrix[7], now

'''
TEXT = Text(TYPE, C, PYTHON, sets=False, steps=True)
