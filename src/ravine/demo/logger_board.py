"""The board of the data logger and its library, in IDF 3.0: outline, holes, components on both sides."""

from __future__ import annotations

HEAD = '.HEADER\n{kind} 3.0 "Sluice Electronics" 2026/11/01.09:00:00 1\n{more}.END_HEADER\n'
PACKAGES = {  # package, part number: across, up, height (mm)
    ("QFN32", "SLU-2040"): (5.0, 5.0, 0.9),
    ("SO14", "SLU-0714"): (8.6, 6.2, 1.75),
    ("USB", "KST-CON-5"): (9.0, 7.4, 3.2),
    ("CELL", "MRL-2032"): (20.0, 20.0, 5.2),
    ("TERM6", "KST-TB-6"): (21.0, 8.5, 10.0),
    ("CAP", "MRL-C-100"): (3.2, 1.6, 1.2),
}
PLACED = [  # package, reference, x, y, angle, side
    ("QFN32", "U1", 34.0, 26.0, 45.0, "TOP"),
    ("SO14", "U2", 52.0, 32.0, 90.0, "TOP"),
    ("USB", "J1", 6.0, 22.0, 0.0, "TOP"),
    ("TERM6", "J2", 60.0, 8.0, 0.0, "TOP"),
    ("CELL", "BT1", 40.0, 22.0, 0.0, "BOTTOM"),
    *(("CAP", f"C{k + 1}", 20.0 + 6 * k, 40.0, 0.0, "TOP") for k in range(5)),
]


def board_text() -> str:
    outline = ["0 4 0 0", "0 76 0 0", "0 80 4 90", "0 80 44 0", "0 76 48 90", "0 4 48 0", "0 0 44 90", "0 0 4 0",
               "0 4 0 90", "1 14 10 0", "1 17 10 360"]  # fmt: skip
    holes = [f"3.2 {x} {y} NPTH BOARD MTG MCAD" for x in (4, 76) for y in (4, 44)]
    rows = []
    numbers = dict(PACKAGES.keys())
    for package, reference, x, y, angle, side in PLACED:
        rows += [f'"{package}" "{numbers[package]}" {reference}', f"{x} {y} 0 {angle} {side} PLACED"]
    text = HEAD.format(kind="BOARD_FILE", more="LOGGER_BOARD MM\n")
    text += "\n".join([".BOARD_OUTLINE MCAD", "1.6", *outline, ".END_BOARD_OUTLINE", ".DRILLED_HOLES", *holes,
                       ".END_DRILLED_HOLES", ".PLACEMENT", *rows, ".END_PLACEMENT\n"])  # fmt: skip
    return text + library_text()


def library_text() -> str:
    text = HEAD.format(kind="LIBRARY_FILE", more="")
    for (package, number), (x, y, height) in PACKAGES.items():
        a, b = x / 2, y / 2
        corners = [(-a, -b), (a, -b), (a, b), (-a, b), (-a, -b)]
        rows = [f"0 {p} {q} 0" for p, q in corners]
        text += "\n".join([".ELECTRICAL", f'"{package}" "{number}" MM {height}', *rows, ".END_ELECTRICAL\n"])
    return text
