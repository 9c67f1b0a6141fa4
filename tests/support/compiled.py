"""Programs of the kernel run as the C99 and the Python that they are printed as."""

from __future__ import annotations

import subprocess
from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import Any

from tiny_lantern.kernel.c99 import C_TYPES, c_function, c_list, c_prelude, list_type
from tiny_lantern.kernel.plain_python import python_function, python_prelude
from tiny_lantern.kernel.program import Program

CC = ("cc", "-std=c99", "-O1", "-Wall", "-Wextra", "-Werror", "-Wconversion", "-fsanitize=undefined",
      "-fno-sanitize-recover=all")  # fmt: skip
Rows = Sequence[Mapping[str, Any]]


def by_python(program: Program, rows: Rows) -> list[tuple[int, ...]]:
    """The results of a program for some rows of inputs, from its Python."""
    room: dict[str, object] = {}
    exec(python_prelude([program]) + python_function(program), room)
    function = room[program.name]
    names = [node.name for node in (*program.inputs, *program.lists)]
    return [tuple(function(**{name: row[name] for name in names})) for row in rows]


def by_c(programs: Sequence[Program], rows: Sequence[Rows], folder: Path) -> list[list[tuple[int, ...]]]:
    """The results of some programs, each for rows of its own, from their C99 compiled once together."""
    main = ["#include <inttypes.h>", "#include <stdio.h>"]
    for program, own in zip(programs, rows, strict=True):
        main += [f"static void rows_of_{program.name}(void)", "{"]
        for row in own:
            given = [f"({C_TYPES[node.type]})INT64_C({row[node.name]})" for node in program.inputs]
            results = [(C_TYPES[node.type], f"r{number}") for number, node in enumerate(program.results)]
            main.append("    {")
            for node in program.lists:
                main.append(c_list(f"own_{node.name}", list_type(node), row[node.name]))
                given += [f"own_{node.name}", f"INT32_C({len(row[node.name])})"]
            main += [f"        {kind} {name};" for kind, name in results]
            main.append(f"        {program.name}({', '.join(given + [f'&{name}' for _, name in results])});")
            main += [f'        printf("%" PRId64 " ", (int64_t){name});' for _, name in results]
            main += ['        printf("\\n");', "    }"]
        main.append("}")
    main += ["int main(void)", "{", *(f"    rows_of_{program.name}();" for program in programs)]
    source = folder / "programs.c"
    functions = [c_function(program) for program in programs]
    parts = [c_prelude(programs, functions), *functions, *main, "    return 0;", "}", ""]
    source.write_text("\n".join(parts))
    subprocess.run([*CC, str(source), "-o", str(folder / "programs")], check=True)
    told = subprocess.run([str(folder / "programs")], check=True, capture_output=True, text=True).stdout.splitlines()
    lines = iter(told)
    return [[tuple(int(word) for word in next(lines).split()) for _ in own] for own in rows]


def run_c(source: str, folder: Path) -> str:
    """What a C program prints, compiled with every warning an error."""
    (folder / "one.c").write_text(source)
    subprocess.run([*CC, "-o", str(folder / "one"), str(folder / "one.c")], check=True, capture_output=True)
    return subprocess.run([str(folder / "one")], check=True, capture_output=True, text=True).stdout
