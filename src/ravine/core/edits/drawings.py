"""Small drawings that several edits share: the part in line, what moves or changes in the accent (class hot).

They are the inside of an SVG of 20 by 16; an edit whose drawing is its own has it in its file.
"""

FACETS = '<path d="M3 13 6 3l8 1 3 8z"/><path class="hot" d="M6 3l4 6 7 3M10 9l-7 4M10 9l4-5"/>'
FINISH = '<path d="M3 13V6l5-3 8 3v7z"/><path class="hot" d="M4 12l6-6M7 13l6-6M11 13l4-4"/>'
IMPRINT = '<path d="M2 12 6 4h12l-4 8z"/><path class="hot" d="M8 9.5 9.5 6.5h4L12 9.5z"/>'
LABEL = '<path d="M2 4h11l4 4-4 4H2z"/><path class="hot" d="M5 8h6"/>'
LEAVE = '<path d="M10 3H2v11h8"/><path class="hot" d="M7 8.5h11M15 5.5l3 3-3 3"/>'
MOVE = '<path d="M1.5 13.5V8h6v5.5z" stroke-dasharray="1.6 1.4"/><path class="hot" d="M11.5 8.5V3h6v5.5zM8 7l2.5-2"/>'
PATTERN = '<path d="M2 12h16"/><path d="M3 12V7h3v5"/><path class="hot" d="M8.5 12V7h3v5M14 12V7h3v5"/>'
ROUND = '<path d="M2 3v11h15"/><path class="hot" d="M2 5h6a7 7 0 0 1 7 7v2"/>'
SIMPLIFY = '<path d="M2 13l2-4 1 1 2-5 2 1 2-3" stroke-dasharray="1.6 1.4"/><path class="hot" d="M2 13C6 4 10 3 18 3"/>'
