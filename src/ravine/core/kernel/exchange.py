"""STEP through the kernel's exchange document: assembly tree, names, colours and units."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

from OCP.APIHeaderSection import APIHeaderSection_MakeHeader
from OCP.collections import Sequence_TDF_Label as _Labels
from OCP.IFSelect import IFSelect_ReturnStatus
from OCP.IGESCAFControl import IGESCAFControl_Reader, IGESCAFControl_Writer
from OCP.IGESControl import IGESControl_Controller
from OCP.Interface import Interface_Static
from OCP.Quantity import Quantity_Color, Quantity_TOC_sRGB
from OCP.STEPCAFControl import STEPCAFControl_Reader, STEPCAFControl_Writer
from OCP.STEPControl import STEPControl_AsIs
from OCP.TCollection import TCollection_AsciiString, TCollection_ExtendedString, TCollection_HAsciiString
from OCP.TDataStd import TDataStd_Name
from OCP.TDF import TDF_Label, TDF_Tool
from OCP.TDocStd import TDocStd_Document
from OCP.TopLoc import TopLoc_Location
from OCP.XCAFDoc import XCAFDoc_ColorGen, XCAFDoc_ColorSurf, XCAFDoc_DocumentTool, XCAFDoc_ShapeTool

from ... import __version__
from ..errors import FormatError
from .shapes import Shape, ShapeIndex, compound, matrix_of, parts_of, shape_map, transform_of, unplaced
from .soup import shell_of

Progress = Callable[[float, str], None]


@dataclass
class ReadPart:
    """One shape of the file in its own coordinates (mm); colours are `#rrggbb`."""

    name: str
    shape: Shape
    colour: str | None = None
    face_colours: dict[int, str] = field(default_factory=dict)


@dataclass
class ReadNode:
    """A place in the tree: `matrix` is 3x4 row by row, relative to the parent; `part` indexes the parts."""

    name: str
    matrix: tuple[float, ...]
    part: int | None = None
    children: list[ReadNode] = field(default_factory=list)
    attributes: dict[str, str] = field(default_factory=dict)


@dataclass
class ReadTree:
    roots: list[ReadNode]
    parts: list[ReadPart]


def _document() -> TDocStd_Document:
    document = TDocStd_Document(TCollection_ExtendedString("ravine"))
    XCAFDoc_DocumentTool.SetLengthUnit_s(document, 0.001)  # metres per unit: millimetres
    return document


def _name(label: TDF_Label) -> str:
    attribute = TDataStd_Name()
    if label.FindAttribute(TDataStd_Name.GetID_s(), attribute):
        return attribute.Get().ToExtString().strip()
    return ""


def _labels(fill: Callable[[_Labels], object]) -> list[TDF_Label]:
    found = _Labels()
    fill(found)
    return [found.Value(i) for i in range(1, found.Length() + 1)]


def _entry(label: TDF_Label) -> str:
    text = TCollection_AsciiString()
    TDF_Tool.Entry_s(label, text)
    return text.ToCString()


class _TreeReader:
    def __init__(self, document: TDocStd_Document) -> None:
        main = document.Main()
        self.shapes = XCAFDoc_DocumentTool.ShapeTool_s(main)
        self.colours = XCAFDoc_DocumentTool.ColorTool_s(main)
        self.parts: list[ReadPart] = []
        self.known: dict[str, int] = {}

    def colour(self, label: TDF_Label) -> str | None:
        colour = Quantity_Color()
        for kind in (XCAFDoc_ColorSurf, XCAFDoc_ColorGen):
            if self.colours.GetColor_s(label, kind, colour):
                return "#" + Quantity_Color.ColorToHex_s(colour).ToCString()[1:].lower()
        return None

    def tree(self) -> ReadTree:
        roots = [self.node(label, TopLoc_Location()) for label in _labels(self.shapes.GetFreeShapes)]
        return ReadTree([n for n in roots if n.part is not None or n.children], self.parts)

    def node(self, label: TDF_Label, location: TopLoc_Location) -> ReadNode:
        target, name = label, _name(label)
        if XCAFDoc_ShapeTool.IsReference_s(label):
            target = TDF_Label()
            XCAFDoc_ShapeTool.GetReferredShape_s(label, target)
            name = _name(target) or name
        if XCAFDoc_ShapeTool.IsAssembly_s(target):
            node = ReadNode(name or "Assembly", matrix_of(location))
            for child in _labels(lambda seq: XCAFDoc_ShapeTool.GetComponents_s(target, seq, False)):
                below = self.node(child, XCAFDoc_ShapeTool.GetLocation_s(child))
                if below.part is not None or below.children:
                    node.children.append(below)
            return node
        return self.leaf(target, name, location, self.colour(label))

    def leaf(self, label: TDF_Label, name: str, location: TopLoc_Location, instance: str | None) -> ReadNode:
        """A part: one body, or a group where the file holds several solids in one part."""
        shape = XCAFDoc_ShapeTool.GetShape_s(label)
        pieces = pieces_of(shape)
        node = ReadNode(name or "Part", matrix_of(location))
        for number, piece in enumerate(pieces):
            key = f"{_entry(label)}#{number}"
            if key not in self.known:
                self.known[key] = len(self.parts)
                self.parts.append(self.part(label, name, piece, number, len(pieces), instance))
            place = matrix_of(piece.Location())
            if len(pieces) == 1:
                node.part = self.known[key]
                node.matrix = matrix_of(location.Multiplied(piece.Location()))
            else:
                node.children.append(ReadNode(self.parts[self.known[key]].name, place, self.known[key]))
        return node

    def part(
        self, label: TDF_Label, name: str, piece: Shape, number: int, count: int, instance: str | None
    ) -> ReadPart:
        own = unplaced(piece)
        title = name or "Part"
        part = ReadPart(title if count == 1 else f"{title} {number + 1}", own, self.colour(label) or instance)
        index = None
        for sub in _labels(lambda seq: XCAFDoc_ShapeTool.GetSubShapes_s(label, seq)):
            colour = self.colour(sub)
            sub_shape = XCAFDoc_ShapeTool.GetShape_s(sub)
            if colour is None or sub_shape.IsNull():
                continue
            if sub_shape.IsSame(piece) and part.colour is None:
                part.colour = colour
                continue
            index = index or ShapeIndex(piece)
            for face in parts_of(sub_shape, "face"):
                at = index.find("face", face)
                if at >= 0:
                    part.face_colours[at] = colour
        return part


def pieces_of(shape: Shape) -> list[Shape]:
    """Each solid, and what faces there are beside them as one open surface."""
    solids = parts_of(shape, "solid")
    if not solids:
        shells = parts_of(shape, "shell")
        faces = parts_of(shape, "face")
        return shells if len(shells) == 1 and len(parts_of(shells[0], "face")) == len(faces) else [shape] * bool(faces)
    inside = shape_map(compound(solids), "face")
    beside = [f for f in parts_of(shape, "face") if not inside.Contains(f)]
    return [*solids, shell_of(beside)] if beside else solids


def read_step(path: str, progress: Progress) -> ReadTree:
    """Read a STEP file; lengths arrive in mm whatever the file's unit.  Raises FormatError."""
    return _read(STEPCAFControl_Reader(), path, "STEP", "it may carry only product data", progress)


def read_iges(path: str, progress: Progress) -> ReadTree:
    """Read an IGES file; lengths arrive in mm whatever the file's unit.  Raises FormatError."""
    return _read(IGESCAFControl_Reader(), path, "IGES", "it may hold only lines and text", progress)


def _read(
    reader: STEPCAFControl_Reader | IGESCAFControl_Reader, path: str, words: str, perhaps: str, progress: Progress
) -> ReadTree:
    reader.SetNameMode(True)
    reader.SetColorMode(True)
    progress(0.05, "reading the file")
    if reader.ReadFile(path) != IFSelect_ReturnStatus.IFSelect_RetDone:
        raise FormatError(f"the file begins like {words}, but its contents cannot be read; it may be cut short")
    document = _document()
    roots = reader.NbRootsForTransfer()
    if roots == 0:
        raise FormatError(f"the {words} file is readable but holds no shapes; {perhaps}")
    progress(0.3, f"building the shapes of {roots} root{'s' if roots > 1 else ''} of the file")
    if not reader.Transfer(document):
        raise FormatError(f"the shapes in the {words} file could not be built; it may be cut short or damaged")
    progress(0.6, "reading names and colours")
    tree = _TreeReader(document).tree()
    if not tree.parts:
        raise FormatError(f"the {words} file holds no solid, surface or face that could be shown")
    return tree


@dataclass
class WritePart:
    name: str
    shape: Shape
    colour: str | None
    face_colours: dict[int, str]


@dataclass
class WriteNode:
    name: str
    matrix: Sequence[float]
    part: int | None
    children: Sequence[WriteNode]


def _quantity(colour: str) -> Quantity_Color:
    red, green, blue = (int(colour[i : i + 2], 16) / 255.0 for i in (1, 3, 5))
    return Quantity_Color(red, green, blue, Quantity_TOC_sRGB)


def _written_document(roots: Sequence[WriteNode], parts: Sequence[WritePart], title: str) -> TDocStd_Document:
    """With tree, names and colours."""
    document = _document()
    shapes = XCAFDoc_DocumentTool.ShapeTool_s(document.Main())
    colours = XCAFDoc_DocumentTool.ColorTool_s(document.Main())
    labels: dict[int, TDF_Label] = {}

    def part_label(number: int) -> TDF_Label:
        if number not in labels:
            part = parts[number]
            label = shapes.AddShape(part.shape, False)
            TDataStd_Name.Set_s(label, TCollection_ExtendedString(part.name, True))
            if part.colour:
                colours.SetColor(label, _quantity(part.colour), XCAFDoc_ColorSurf)
            faces = parts_of(part.shape, "face")
            for face, colour in part.face_colours.items():
                colours.SetColor(shapes.AddSubShape(label, faces[face]), _quantity(colour), XCAFDoc_ColorSurf)
            labels[number] = label
        return labels[number]

    def group_label(node: WriteNode) -> TDF_Label:
        label = shapes.NewShape()
        TDataStd_Name.Set_s(label, TCollection_ExtendedString(node.name, True))
        for child in node.children:
            below = part_label(child.part) if child.part is not None else group_label(child)
            component = shapes.AddComponent(label, below, TopLoc_Location(transform_of(child.matrix)))
            TDataStd_Name.Set_s(component, TCollection_ExtendedString(child.name, True))
        return label

    identity = (1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0)
    if len(roots) == 1 and roots[0].part is not None and tuple(roots[0].matrix) == identity:
        part_label(roots[0].part)
    elif len(roots) == 1 and roots[0].part is None and tuple(roots[0].matrix) == identity:
        group_label(roots[0])
    else:
        group_label(WriteNode(title, identity, None, roots))
    shapes.UpdateAssemblies()
    return document


def write_step(path: str, roots: Sequence[WriteNode], parts: Sequence[WritePart], title: str) -> None:
    """Write AP214 with tree, names and colours, in mm.  Raises FormatError."""
    document = _written_document(roots, parts, title)
    Interface_Static.SetCVal_s("write.step.schema", "AP214IS")
    Interface_Static.SetCVal_s("write.step.unit", "MM")
    writer = STEPCAFControl_Writer()
    writer.SetNameMode(True)
    writer.SetColorMode(True)
    if not writer.Transfer(document, STEPControl_AsIs):
        raise FormatError("the shapes could not be turned into STEP")
    _head(writer, title)
    if writer.Write(path) != IFSelect_ReturnStatus.IFSelect_RetDone:
        raise FormatError("the STEP file could not be written")


def _head(writer: STEPCAFControl_Writer, title: str) -> None:
    """The header of ISO 10303-21: what the file holds and what wrote it; nobody is named, since nobody is known."""
    header = APIHeaderSection_MakeHeader(writer.ChangeWriter().Model())
    header.SetName(TCollection_HAsciiString(part21_text(title)))
    header.SetDescriptionValue(1, TCollection_HAsciiString(part21_text(f"{title}, exact boundary representation")))
    header.SetAuthorValue(1, TCollection_HAsciiString(""))
    header.SetOrganizationValue(1, TCollection_HAsciiString(""))
    header.SetPreprocessorVersion(TCollection_HAsciiString(f"Ravine {__version__}"))
    header.SetOriginatingSystem(TCollection_HAsciiString("Ravine"))
    header.SetAuthorisation(TCollection_HAsciiString(""))


def part21_text(text: str) -> str:
    """Characters beyond ASCII as ISO 10303-21 writes them: \\X2\\ and four hexadecimal digits of UTF-16 each."""
    plain = text.replace("\\", "\\\\").replace("\n", " ")

    def coded(found: re.Match[str]) -> str:
        return f"\\X2\\{found[0].encode('utf-16-be').hex().upper()}\\X0\\"

    return re.sub(r"[^\x20-\x7e]+", coded, plain)


def write_iges(path: str, roots: Sequence[WriteNode], parts: Sequence[WritePart], title: str) -> None:
    """Write IGES 5.3 in mm, solids as boundary representation, with names and colours.  Raises FormatError."""
    document = _written_document(roots, parts, title)
    IGESControl_Controller.Init_s()
    Interface_Static.SetIVal_s("write.iges.brep.mode", 1)
    for name, text in (("product", title.encode("ascii", "replace").decode()), ("author", ""), ("company", "")):
        Interface_Static.SetCVal_s(f"write.iges.header.{name}", text)
    writer = IGESCAFControl_Writer()
    if not writer.Transfer(document):
        raise FormatError("the shapes could not be turned into IGES")
    if not writer.Write(path):
        raise FormatError("the IGES file could not be written")


__all__ = [
    "ReadNode",
    "ReadPart",
    "ReadTree",
    "WriteNode",
    "WritePart",
    "pieces_of",
    "read_iges",
    "read_step",
    "write_iges",
    "write_step",
]
