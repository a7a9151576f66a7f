"""What the help page says of the program, and which stages, gestures and words there are to explain."""

from __future__ import annotations

from collections.abc import Iterable

from ravine.core.edits import Edit

STAGES = {
    "Bring in": "Files come in: exact solids and surfaces, meshes, boards, drawings and pictures. How they are read "
    "is chosen beside the list; what a file lacks, such as its unit, is asked.",
    "Mend": "What a file brought wrong is found and put right: gaps, missing and turned faces, slivers, holes of "
    "meshes. The check-up on the right lists every finding with its place.",
    "Shape": "Faces are pushed, holes set, edges rounded, sketches drawn and turned into matter. Nothing has to be "
    "known of how the part was made.",
    "Assemble": "Parts are moved, repeated, joined and taken from the shelf. What is picked is dragged on to another "
    "part and stays joined to it; Joints lists what holds, and how the picked part is still free.",
    "Sheet": "Any solid of one thickness is read as walls and bends, and lies flat beside the model. Edges are pulled "
    "into flanges, corners bent or ripped; what is no sheet is listed and mended. The flat goes out as DXF, SVG or "
    "PDF.",
    "Prove": "Walls, draft, curvature, deviation and room between parts are shown on the model as figures, sections "
    "are cut and measured. The standing check lists what is not right with how the parts stand together.",
    "Hand over": "Drawings are laid on sheets and follow the model; they leave as PDF, DXF or SVG. The model leaves as "
    "a file: exact, as a mesh, as a section or sketch, or as one page that opens anywhere; a link shows it to whoever "
    "has it. The review tells what changed since an earlier state or against another model, shows both, and goes out "
    "with its notes as one page or PDF.",
}

GESTURES = [
    ("Drag", "turn the view"),
    ("Shift drag, or right drag", "shift the view"),
    ("Two fingers, pinch or wheel", "nearer and farther, at the pointer"),
    ("Two fingers with Shift, with Alt", "shift the view, turn the view: a touch pad needs no press"),
    ("Click", "pick a face, an edge near the pointer, or a corner; with Shift it is added or taken away"),
    ("Double click", "pick the whole part; on an edge all that run on from it, with Shift its loop"),
    ("The other button", "list all that lies under the pointer, to pick what is hidden"),
    ("Ctrl drag", "a box around what is to be picked; with Shift what it crosses, too"),
    ("Drag what is picked, at the stage Assemble", "on to another part: the two are joined; F turns it round"),
    ("Drag from the shelf", "on to a hole or a face: the part sits there, its size and length proposed"),
    ("Drag a row of the parts list", "on to a group, or below the list to the outermost level"),
    ("Click in the flat, at the stage Sheet", "picks the wall or bend; after the word cut it says where to cut"),
    ("Double click on a name in the list", "gives the part another one"),
    ("Drag a bead", "the value of its gap, rounded to a fifth of a tick; with Alt every step between"),
    ("Drag sideways on a number", "in the sentence: more or less of it"),
]

KEYS = [
    ("1 – 6", "choose an action; the same digit always means the same for the same sort of pick"),
    ("any letter", "write an edit: push 12.5, fillet 3, rename Lid, undo"),
    ("Tab", "next gap; in the view, next panel"),
    ("Enter, Esc", "accept, leave; without a line Esc clears the pick"),
    ("Ctrl A, Delete", "pick all parts that are shown; take away what is picked"),
    ("F1, ?", "this page"),
    ("Page down, Page up, Space", "go from face to face, pick it (with Shift: add it)"),
    ("Arrows, +, −, Home", "turn, nearer and farther, fit"),
    ("Ctrl Z, Ctrl Y", "step back, step forward (Ctrl Shift Z, too), over hiding as well"),
]

WORDS = [
    ("line", "the sentence at the foot of the view: one edit, with gaps"),
    ("gap", "what a sentence still needs: a number, a choice, or something picked; a click empties a picked one"),
    ("more", "behind it stand the gaps of a sentence that are as usual"),
    ("wire and bead", "a ruled line through what is edited; the bead on it is the value, the ticks are real lengths"),
    ("wall", "a stroke across the wire where the value can go no farther"),
    ("hatching", "matter that would be added, or taken away, before it is accepted"),
    ("journal", "every accepted edit as a sentence; a click goes back to that state, and forward again"),
    (
        "feature",
        "what faces make together: a hole, slot, pocket, boss, rib, round; its sizes can be set",
    ),
    ("cluster", "what stands on a face, or is sunk into it, and is no simple form: lettering is one"),
    ("set aside", "a feature off the part, which waits in the list and is put back on the faces as they are then"),
    ("repeat", "features that are alike, in a row, a grid, around an axis"),
    ("dimension", "a distance kept between two things of a solid; a click on it drives it, Delete forgets it"),
    (
        "value",
        "a length with a name: a dimension, a size of a sketch, or one of its own; formulas use it: 2*wall + 1 mm",
    ),
    ("tie", "two things that stay at their distance: when an edit moves one, the other follows"),
    ("variant", "the part with a row of other values, tried beside others on a page of its own"),
    ("held", "a dimension that keeps its value while another is driven; a click on it holds it"),
    ("alike", "what resembles the picked thing; a click picks it, Shift marks several"),
    ("set", "picked things kept under a name in the list of parts"),
    ("pin", "a measure that stays in the view and follows every edit"),
    ("section", "the model cut open by a plane; square on beside the view it is measured and saved"),
    ("look", "where the eye is, how parts are drawn, and pictures of them"),
    ("rule", "what a sketch keeps: level, parallel, tangent, a size"),
    (
        "joint",
        "how two parts stand to one another: coaxial, on, at a distance or angle, parallel, tangent, centred, fixed",
    ),
    ("free", "the slides and turns that joints leave to a part"),
    ("rest", "a joint that is kept and not followed"),
    ("shelf", "standard and bought parts, made from the tables of their standards"),
    ("free to open", "parts of a study that press on one another and come apart; bonded ones do neither"),
    ("loose motion", "how the parts of a study can still move as they are held; it is shown swinging"),
    ("bill", "what the model is made of, part by part, on a page of its own; orders go out from it"),
    ("standing check", "overlaps, gaps that are too narrow, screws that do not hold; its count stands at the foot"),
    ("locked", "a part that is measured but not changed"),
]

FAMILIES = {
    "faces": "Faces",
    "features": "Features",
    "dimensions": "Dimensions",
    "edges": "Edges",
    "solids": "From sketches",
    "bodies": "Whole parts",
    "sketch": "Sketches",
    "meshes": "Meshes",
    "assembly": "Parts and names",
    "joints": "Joints",
    "sheet": "Sheet metal",
    "simulate": "Studies of strength",
    "printing": "Printing",
    "shelf": "The shelf",
    "bill": "Lists",
    "looks": "Materials and finishes",
    "exchange": "Files",
    "drawing": "Drawings",
    "sharing": "Sharing",
}


def by_family(edits: Iterable[type[Edit]]) -> dict[str, list[type[Edit]]]:
    """Titles of families with their edits, in the order of FAMILIES; a folder without a title stands at the end."""
    found: dict[str, list[type[Edit]]] = {title: [] for title in FAMILIES.values()}
    for cls in edits:
        folder = cls.__module__.split(".")[-2]
        found.setdefault(FAMILIES.get(folder, folder.capitalize()), []).append(cls)
    return {title: rows for title, rows in found.items() if rows}
