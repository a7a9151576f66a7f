"""Pages of text and lines as PDF (ISO 32000-1), with the shipped fonts embedded and cut down to the letters in use."""

from __future__ import annotations

import io
from functools import cache
from importlib.resources import files

import pydyf
from fontTools.subset import Options, Subsetter
from fontTools.ttLib import TTFont

POINT = 72 / 25.4  # a mm, in points
FONTS = {"plain": "DejaVuSans.ttf", "bold": "DejaVuSans-Bold.ttf"}


@cache
def _font(name: str) -> TTFont:
    return TTFont(io.BytesIO(files("ravine.core").joinpath(f"fonts/{FONTS[name]}").read_bytes()))


def width_of(text: str, size: float, font: str = "plain") -> float:
    """mm, of a text set in `size` mm."""
    found = _font(font)
    cmap, metrics, whole = found.getBestCmap(), found["hmtx"].metrics, found["head"].unitsPerEm
    return sum(metrics[cmap.get(ord(c), ".notdef")][0] for c in text) * size / whole


def fitted_text(text: str, size: float, wide: float, font: str = "plain") -> str:
    """Cut, with an ellipsis, to what fits a width (mm)."""
    if width_of(text, size, font) <= wide:
        return text
    while text and width_of(text + "…", size, font) > wide:
        text = text[:-1]
    return text.rstrip() + "…"


class Document:
    """Lengths in mm, from the upper left corner of the page."""

    def __init__(self, title: str, width: float, height: float) -> None:
        self.title, self.width, self.height = title, width, height
        self.pages: list[pydyf.Stream] = []
        self._used: dict[str, dict[int, str]] = {name: {} for name in FONTS}

    def page(self) -> None:
        self.pages.append(pydyf.Stream(compress=True))

    def line(self, x1: float, y1: float, x2: float, y2: float, thick: float = 0.18) -> None:
        here = self.pages[-1]
        here.set_line_width(thick * POINT)
        here.move_to(x1 * POINT, (self.height - y1) * POINT)
        here.line_to(x2 * POINT, (self.height - y2) * POINT)
        here.stroke()

    def text(self, x: float, y: float, text: str, size: float = 3.5, font: str = "plain", align: str = "left") -> None:
        """y: of the base line; size: mm; align: left, right or middle of x."""
        shift = {"left": 0.0, "right": 1.0, "middle": 0.5}[align] * width_of(text, size, font)
        found = _font(font)
        cmap, order = found.getBestCmap(), found.getReverseGlyphMap()
        codes = []
        for letter in text:
            glyph = order[cmap.get(ord(letter), ".notdef")]
            self._used[font][glyph] = letter
            codes.append(f"{glyph:04x}")
        here = self.pages[-1]
        here.begin_text()
        here.set_font_size(font, size * POINT)
        here.set_text_matrix(1, 0, 0, 1, (x - shift) * POINT, (self.height - y) * POINT)
        here.stream.append(f"<{''.join(codes)}> Tj")  # glyph numbers, no letters
        here.end_text()

    def written(self) -> bytes:
        """The whole file.  The same pages give the same bytes."""
        pdf = pydyf.PDF()
        fonts = {name: self._embedded(pdf, name) for name, used in self._used.items() if used}
        resources = pydyf.Dictionary({"Font": pydyf.Dictionary(fonts)})
        for stream in self.pages:
            pdf.add_object(stream)
            box = pydyf.Array([0, 0, round(self.width * POINT, 3), round(self.height * POINT, 3)])
            pdf.add_page(
                pydyf.Dictionary({
                    "Type": "/Page", "Parent": pdf.pages.reference, "Contents": stream.reference, "MediaBox": box,
                    "Resources": resources,
                })
            )  # fmt: skip
        pdf.info["Title"] = pydyf.String(self.title)
        out = io.BytesIO()
        pdf.write(out)
        return out.getvalue()

    def _embedded(self, pdf: pydyf.PDF, name: str) -> bytes:
        """A font of glyph numbers (9.7.4), with the way back to letters for searching and copying (9.10.3)."""
        font, used = _font(name), self._used[name]
        whole = font["head"].unitsPerEm
        scale = 1000 / whole
        data = _cut_down(name, frozenset(used))
        file = pydyf.Stream([data], pydyf.Dictionary({"Length1": len(data)}), compress=True)
        pdf.add_object(file)
        head = font["head"]
        called = f"/RAVINE+{FONTS[name].removesuffix('.ttf')}"
        descriptor = pydyf.Dictionary({
            "Type": "/FontDescriptor", "FontName": called, "Flags": 4,
            "FontBBox": pydyf.Array([round(v * scale) for v in (head.xMin, head.yMin, head.xMax, head.yMax)]),
            "ItalicAngle": 0, "Ascent": round(font["hhea"].ascent * scale),
            "Descent": round(font["hhea"].descent * scale), "StemV": 80,
            "CapHeight": round(0.7 * font["hhea"].ascent * scale),
            "FontFile2": file.reference,
        })  # fmt: skip
        pdf.add_object(descriptor)
        order = font.getGlyphOrder()
        widths = pydyf.Array([
            v for glyph in sorted(used)
            for v in (glyph, pydyf.Array([round(font["hmtx"].metrics[order[glyph]][0] * scale)]))
        ])  # fmt: skip
        inner = pydyf.Dictionary({
            "Type": "/Font", "Subtype": "/CIDFontType2", "BaseFont": called, "CIDToGIDMap": "/Identity",
            "CIDSystemInfo": pydyf.Dictionary({
                "Registry": pydyf.String("Adobe"), "Ordering": pydyf.String("Identity"), "Supplement": 0,
            }),
            "FontDescriptor": descriptor.reference, "W": widths,
        })  # fmt: skip
        pdf.add_object(inner)
        back = pydyf.Stream([_letters(used)], compress=True)
        pdf.add_object(back)
        outer = pydyf.Dictionary({
            "Type": "/Font", "Subtype": "/Type0", "BaseFont": called, "Encoding": "/Identity-H",
            "DescendantFonts": pydyf.Array([inner.reference]), "ToUnicode": back.reference,
        })  # fmt: skip
        pdf.add_object(outer)
        found: bytes = outer.reference
        return found


def _cut_down(name: str, glyphs: frozenset[int]) -> bytes:
    font = TTFont(io.BytesIO(files("ravine.core").joinpath(f"fonts/{FONTS[name]}").read_bytes()))
    options = Options()
    options.retain_gids = True
    options.notdef_outline = True
    options.drop_tables += ["GSUB", "GPOS", "GDEF", "kern", "FFTM", "name", "post", "cmap", "OS/2"]
    cutter = Subsetter(options)
    cutter.populate(gids=list(glyphs))
    cutter.subset(font)
    font["head"].modified = font["head"].created
    font.recalcTimestamp = False
    out = io.BytesIO()
    font.save(out)
    return out.getvalue()


def _letters(used: dict[int, str]) -> bytes:
    rows = "\n".join(f"<{glyph:04x}> <{letter.encode('utf-16-be').hex()}>" for glyph, letter in sorted(used.items()))
    return (
        "/CIDInit /ProcSet findresource begin\n12 dict begin\nbegincmap\n/CMapType 2 def\n/CMapName /Letters def\n"
        "1 begincodespacerange\n<0000> <ffff>\nendcodespacerange\n"
        f"{len(used)} beginbfchar\n{rows}\nendbfchar\nendcmap\nend\nend"
    ).encode()
