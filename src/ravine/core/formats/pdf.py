"""Pages of text and lines as PDF (ISO 32000-1), with the shipped fonts embedded and cut down to the letters in use."""

from __future__ import annotations

import io
import itertools
import math
from collections.abc import Iterable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from functools import cache
from importlib.resources import files
from typing import TYPE_CHECKING

import pydyf

from ..errors import EditError
from ..lazy import later

if TYPE_CHECKING:
    from fontTools.ttLib import TTFont
    from PIL import Image

subset, tables, pictures = later("fontTools.subset"), later("fontTools.ttLib"), later("PIL.Image")

POINT = 72 / 25.4  # a mm, in points
FONTS = {"plain": "DejaVuSans.ttf", "bold": "DejaVuSans-Bold.ttf"}
LAYOUT = {"GSUB", "GPOS", "GDEF"}  # tables that say how letters stand to one another; here each is set by itself


@cache
def _font(name: str) -> TTFont:
    return tables.TTFont(io.BytesIO(files("ravine.core").joinpath(f"fonts/{FONTS[name]}").read_bytes()))


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

    def __init__(self, title: str, width: float, height: float, facts: Mapping[str, str] | None = None) -> None:
        """facts: Author, Subject … of the document (14.3.3)."""
        self.title, self.width, self.height = title, width, height
        self.facts = dict(facts or {})
        self.pages: list[pydyf.Stream] = []
        self._sizes: list[tuple[float, float]] = []
        self._names: list[str] = []
        self._used: dict[str, dict[int, str]] = {name: {} for name in FONTS}
        self._layers: dict[str, int] = {}
        self._images: list[Image.Image] = []

    def page(self, width: float | None = None, height: float | None = None, name: str = "") -> None:
        """name: by which it stands among the bookmarks."""
        self.width, self.height = width or self.width, height or self.height
        self.pages.append(pydyf.Stream(compress=True))
        self._sizes.append((self.width, self.height))
        self._names.append(name)

    @contextmanager
    def layer(self, name: str) -> Iterator[None]:
        """What is drawn meanwhile can be shown and hidden under that name (8.11)."""
        number = self._layers.setdefault(name, len(self._layers))
        here = self.pages[-1]
        here.stream.append(f"/OC /L{number} BDC")
        yield
        here.stream.append("EMC")

    def strokes(self, paths: Iterable[Sequence[Sequence[float]]], thick: float, dash: Sequence[float] = ()) -> None:
        """paths: a start (2), then ends of lines (2) or two controls and an end of cubic Bézier curves (6)."""
        here = self.pages[-1]
        here.push_state()
        here.set_line_width(round(thick * POINT, 4))
        here.set_line_cap(1 if not dash else 0)
        here.set_line_join(1)
        if dash:
            here.set_dash([round(d * POINT, 4) for d in dash], 0)
        for path in paths:
            self._trace(path)
            here.stroke()
        here.pop_state()

    def fill(self, places: Sequence[Sequence[float]], colour: Sequence[float] = (0.0, 0.0, 0.0)) -> None:
        """colour: red, green, blue, 0 to 1."""
        here = self.pages[-1]
        here.push_state()
        here.set_color_rgb(*colour)
        self._trace(places)
        here.fill()
        here.pop_state()

    def image(self, x: float, y: float, wide: float, high: float, data: bytes) -> None:
        """A picture (PNG …) in the middle of a field whose upper left corner is x, y; what is clear is white.  Raises
        EditError for what is no picture."""
        try:
            with pictures.open(io.BytesIO(data)) as found:
                clear = found.convert("RGBA")
        except (OSError, ValueError, pictures.DecompressionBombError) as error:
            raise EditError("this picture cannot be read") from error
        ground = pictures.new("RGBA", clear.size, "white")
        ground.alpha_composite(clear)
        self._images.append(ground.convert("RGB"))
        scale = min(wide / clear.width, high / clear.height)
        w, h = scale * clear.width, scale * clear.height
        here = self.pages[-1]
        here.push_state()
        left, low = x + (wide - w) / 2, self.height - y - (high + h) / 2
        here.set_matrix(w * POINT, 0, 0, h * POINT, left * POINT, low * POINT)
        here.draw_x_object(f"P{len(self._images) - 1}")
        here.pop_state()

    def _trace(self, path: Sequence[Sequence[float]]) -> None:
        here = self.pages[-1]
        here.move_to(*self._point(path[0]))
        for piece in path[1:]:
            if len(piece) == 2:
                here.line_to(*self._point(piece))
            else:
                here.curve_to(*(v for k in (0, 2, 4) for v in self._point(piece[k : k + 2])))

    def _point(self, place: Sequence[float]) -> tuple[float, float]:
        return round(float(place[0]) * POINT, 3), round((self.height - float(place[1])) * POINT, 3)

    def line(self, x1: float, y1: float, x2: float, y2: float, thick: float = 0.18) -> None:
        here = self.pages[-1]
        here.set_line_width(thick * POINT)
        here.move_to(x1 * POINT, (self.height - y1) * POINT)
        here.line_to(x2 * POINT, (self.height - y2) * POINT)
        here.stroke()

    def text(
        self, x: float, y: float, text: str, size: float = 3.5, font: str = "plain", align: str = "left",
        lean: float = 0.0,
    ) -> None:  # fmt: skip
        """y: of the base line; size: mm; align: left, right or middle of x; lean: rad, counterclockwise."""
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
        c, s = round(math.cos(lean), 6), round(math.sin(lean), 6)
        here.set_text_matrix(c, s, -s, c, (x - shift * c) * POINT, (self.height - y - shift * s) * POINT)
        here.stream.append(f"<{''.join(codes)}> Tj")  # glyph numbers, no letters
        here.end_text()

    def written(self) -> bytes:
        """The whole file.  The same pages give the same bytes."""
        pdf = pydyf.PDF()
        fonts = {name: self._embedded(pdf, name) for name, used in self._used.items() if used}
        resources = pydyf.Dictionary({"Font": pydyf.Dictionary(fonts)})
        if self._layers:
            resources["Properties"] = self._written_layers(pdf)
        if self._images:
            resources["XObject"] = self._written_images(pdf)
        pages = []
        for stream, (width, height) in zip(self.pages, self._sizes, strict=True):
            pdf.add_object(stream)
            box = pydyf.Array([0, 0, round(width * POINT, 3), round(height * POINT, 3)])
            pages.append(
                pydyf.Dictionary({
                    "Type": "/Page", "Parent": pdf.pages.reference, "Contents": stream.reference, "MediaBox": box,
                    "Resources": resources,
                })
            )  # fmt: skip
            pdf.add_page(pages[-1])
        if any(self._names):
            self._written_bookmarks(pdf, pages)
        for key, words in {"Title": self.title, **self.facts}.items():
            pdf.info[key] = pydyf.String(words)
        out = io.BytesIO()
        pdf.write(out)
        return out.getvalue()

    def _written_images(self, pdf: pydyf.PDF) -> pydyf.Dictionary:
        """(8.9.5)"""
        rows = {}
        for number, image in enumerate(self._images):
            extra = {"Type": "/XObject", "Subtype": "/Image", "Width": image.width, "Height": image.height,
                     "ColorSpace": "/DeviceRGB", "BitsPerComponent": 8}  # fmt: skip
            rows[f"P{number}"] = pydyf.Stream([image.tobytes()], extra, compress=True)
            pdf.add_object(rows[f"P{number}"])
        return pydyf.Dictionary({name: row.reference for name, row in rows.items()})

    def _written_layers(self, pdf: pydyf.PDF) -> pydyf.Dictionary:
        groups = {}
        for name, number in self._layers.items():
            groups[f"L{number}"] = pydyf.Dictionary({"Type": "/OCG", "Name": pydyf.String(name)})
            pdf.add_object(groups[f"L{number}"])
        order = pydyf.Array([g.reference for g in groups.values()])
        shown = pydyf.Dictionary({"Order": order, "ON": order})
        pdf.catalog["OCProperties"] = pydyf.Dictionary({"OCGs": order, "D": shown})
        return pydyf.Dictionary({key: g.reference for key, g in groups.items()})

    def _written_bookmarks(self, pdf: pydyf.PDF, pages: Sequence[pydyf.Dictionary]) -> None:
        """One a page (12.3.3)."""
        root = pydyf.Dictionary({"Type": "/Outlines", "Count": len(pages)})
        pdf.add_object(root)
        rows = []
        for name, page in zip(self._names, pages, strict=True):
            target = pydyf.Array([page.reference, "/Fit"])
            rows.append(pydyf.Dictionary({"Title": pydyf.String(name), "Parent": root.reference, "Dest": target}))
            pdf.add_object(rows[-1])
        for row, after in itertools.pairwise(rows):
            row["Next"], after["Prev"] = after.reference, row.reference
        root["First"], root["Last"] = rows[0].reference, rows[-1].reference
        pdf.catalog["Outlines"] = root.reference

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
    font = tables.TTFont(io.BytesIO(files("ravine.core").joinpath(f"fonts/{FONTS[name]}").read_bytes()))
    for tag in LAYOUT & set(font.keys()):
        del font[tag]  # the subsetter would read them through before it drops them: a second for each file
    options = subset.Options()
    options.retain_gids = True
    options.notdef_outline = True
    options.drop_tables += ["kern", "FFTM", "name", "post", "cmap", "OS/2"]
    cutter = subset.Subsetter(options)
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
