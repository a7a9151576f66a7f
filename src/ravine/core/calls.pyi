"""Written by `python -m ravine.cli.typed_calls` from the declarations of edits and studies; not by hand."""

from collections.abc import Mapping, Sequence
from typing import Any, Literal, Protocol, overload

from .edits.perform import Change
from .study_face import StudyFace

class HasId(Protocol):
    @property
    def id(self) -> str: ...

Picks = str | HasId | Sequence[str | HasId]

class Calls:
    def do_named(self, name: str, values: Mapping[str, Any]) -> Change: ...
    def study_named(self, name: str, values: Mapping[str, Any]) -> Any: ...
    def study_of_strength(self, parts: Sequence[str] = ..., called: str | None = ...) -> StudyFace: ...
    @overload
    def do(self, call: Literal["accept finding"], /, *, note: str = ..., key: str) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["add dimension"],
        /,
        *,
        ends: Picks,
        way: Literal["straight", "x", "y", "z", "radius", "arc", "angle"] = ...,
        called: str = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["add view"],
        /,
        *,
        parts: Picks = ...,
        direction: Literal["front", "back", "left", "right", "top", "below", "corner", "other corner", "flat"] = ...,
        beside: int | str = ...,
        side: Literal["left", "right", "above", "below"] = ...,
        scale: str | float = ...,
        hidden: bool = ...,
        smooth: bool = ...,
        apart: str = ...,
        at: Sequence[Any] | str = ...,
        sheet: str = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["begin sheet"],
        /,
        *,
        parts: Picks = ...,
        size: Literal["A4", "A3", "A2", "A1", "A0", "ANSI A", "ANSI B", "ANSI C", "ANSI D", "ANSI E"] = ...,
        angle: Literal["first", "third"] = ...,
        views: Literal["usual", "none"] = ...,
        called: str = ...,
        says: Mapping[str, Any] | str = ...,
    ) -> Change: ...
    @overload
    def do(self, call: Literal["begin study"], /, *, parts: Picks = ..., called: str = ...) -> Change: ...
    @overload
    def do(self, call: Literal["bend again"], /, *, on: Picks) -> Change: ...
    @overload
    def do(self, call: Literal["bend edge"], /, *, edges: Picks, radius: str | float = ...) -> Change: ...
    @overload
    def do(self, call: Literal["bend in steps"], /, *, bends: Picks, steps: int | str = ...) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["chamfer"],
        /,
        *,
        edges: Picks,
        size: str | float,
        second: str | float = ...,
        angle: str | float = ...,
        side: Literal["first", "other"] = ...,
        run: Literal["tangent", "loop"] = ...,
    ) -> Change: ...
    @overload
    def do(
        self, call: Literal["check up"], /, *, parts: Picks = ..., format: Literal["text", "json"] = ...
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["combine"],
        /,
        *,
        way: Literal["unite", "cut", "common"] = ...,
        part: Picks,
        tools: Picks,
        after: Literal["go", "stay"] = ...,
        clearance: str | float = ...,
        drop: str = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["copy curves"],
        /,
        *,
        curves: Picks,
        way: Literal["row", "around", "mirrored"] = ...,
        step: str = ...,
        middle: str = ...,
        angle: str | float = ...,
        count: int | str = ...,
        line: Picks = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["cover"],
        /,
        *,
        faces: Picks,
        thickness: str | float = ...,
        distance: str | float = ...,
        radius: str | float = ...,
        called: str = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["cut flat"],
        /,
        *,
        shape: Literal["circle", "slot", "rectangle"] = ...,
        size: str | float = ...,
        length: str | float = ...,
        turn: str | float = ...,
        on: Picks,
        at: Sequence[float],
    ) -> Change: ...
    @overload
    def do(self, call: Literal["cut link"], /, *, part: Picks) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["cut view"],
        /,
        *,
        view: int | str = ...,
        line: Sequence[Any] | str = ...,
        toward: Literal["left", "right", "above", "below"] = ...,
        half: bool = ...,
        slanting: Literal["turned", "kept"] = ...,
        ribs: Literal["whole", "cut"] = ...,
        whole: Picks = ...,
        letter: str = ...,
        at: Sequence[Any] | str = ...,
        sheet: str = ...,
    ) -> Change: ...
    @overload
    def do(self, call: Literal["decimate"], /, *, parts: Picks, share: str | float = ...) -> Change: ...
    @overload
    def do(self, call: Literal["delete body"], /, *, parts: Picks) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["detail view"],
        /,
        *,
        middle: Sequence[Any] | str,
        radius: str | float = ...,
        view: int | str = ...,
        scale: str | float = ...,
        letter: str = ...,
        at: Sequence[Any] | str = ...,
        sheet: str = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["dimension"],
        /,
        *,
        on: Picks,
        kind: Literal["distance", "across", "upwards", "angle", "radius", "diameter"] = ...,
        size: str | float = ...,
        angle: str | float = ...,
        called: str = ...,
    ) -> Change: ...
    @overload
    def do(self, call: Literal["drag"], /, *, what: Picks, to: str) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["draw"],
        /,
        *,
        sketch: Picks,
        shape: Literal[
            "line",
            "rectangle",
            "rectangle about",
            "circle",
            "circle through",
            "arc",
            "arc about",
            "arc going on",
            "ellipse",
            "polygon",
            "polygon over",
            "slot",
            "spline",
            "dot",
            "text",
            "touching line",
        ] = ...,
        places: str,
        size: str | float = ...,
        count: int | str = ...,
        words: str = ...,
        font: Literal["sans", "bold", "serif", "mono"] = ...,
        about: Picks = ...,
        role: Literal["outline", "helper"] = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["drill"],
        /,
        *,
        face: Picks,
        kind: Literal["clearance", "tapped", "counterbored", "countersunk", "plain"] = ...,
        screw: Literal[
            "M1.6",
            "M2",
            "M2.5",
            "M3",
            "M4",
            "M5",
            "M6",
            "M8",
            "M10",
            "M12",
            "M16",
            "M20",
            "M24",
            "#4-40",
            "#6-32",
            "#8-32",
            "#10-24",
            "1/4-20",
            "5/16-18",
            "3/8-16",
            "1/2-13",
            "5/8-11",
            "3/4-10",
        ] = ...,
        fit: Literal["close", "medium", "free"] = ...,
        diameter: str | float = ...,
        across: str | float = ...,
        up: str | float = ...,
        start: Picks = ...,
        depth: str | float = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["drive"],
        /,
        *,
        value: str | float,
        dimension: str,
        side: Literal["second", "first", "both"] = ...,
        held: Sequence[str] | str = ...,
        riders: Picks = ...,
        line: Literal["together", "alone"] = ...,
    ) -> Change: ...
    @overload
    def do(self, call: Literal["drop dimension"], /, *, dimension: str) -> Change: ...
    @overload
    def do(self, call: Literal["drop from sheet"], /, *, things: Sequence[int] | str, sheet: str = ...) -> Change: ...
    @overload
    def do(self, call: Literal["drop from study"], /, *, called: str, study: str = ...) -> Change: ...
    @overload
    def do(self, call: Literal["drop joint"], /, *, joint: str) -> Change: ...
    @overload
    def do(self, call: Literal["drop sheet"], /, *, sheet: str = ...) -> Change: ...
    @overload
    def do(self, call: Literal["drop study"], /, *, study: str = ...) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["edges out"],
        /,
        *,
        edges: Picks,
        distance: str | float,
        along: Literal["x", "y", "z"] = ...,
        axis: Picks = ...,
    ) -> Change: ...
    @overload
    def do(self, call: Literal["erase"], /, *, what: Picks) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["export"],
        /,
        *,
        parts: Picks = ...,
        format: Literal["step", "iges", "brep", "stl", "obj", "ply", "3mf", "glb"] = ...,
        units: Literal["mm", "cm", "m", "in", "ft"] = ...,
        tolerance: str | float = ...,
        file_name: str = ...,
    ) -> Change: ...
    @overload
    def do(self, call: Literal["extend"], /, *, curve: Picks, at: str) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["extrude"],
        /,
        *,
        areas: Picks,
        distance: str | float = ...,
        until: Picks = ...,
        sides: Literal["one", "both"] = ...,
        taper: str | float = ...,
        way: Literal["joining", "apart", "cutting"] = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["feature size"],
        /,
        *,
        value: str | float,
        size: Literal[
            "diameter",
            "depth",
            "width",
            "length",
            "height",
            "thickness",
            "radius",
            "counterbore_diameter",
            "counterbore_depth",
            "diameter_1",
            "diameter_2",
            "diameter_3",
            "diameter_4",
            "diameter_5",
        ] = ...,
        faces: Picks,
        members: Literal["alone", "alike"] = ...,
    ) -> Change: ...
    @overload
    def do(self, call: Literal["fill"], /, *, edges: Picks) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["flange"],
        /,
        *,
        edges: Picks,
        shape: Literal["flange", "hem", "step"] = ...,
        length: str | float = ...,
        counted: Literal["outside", "inside", "tangent"] = ...,
        angle: str | float = ...,
        radius: str | float = ...,
        placed: Literal["beyond", "flush"] = ...,
        first: str | float = ...,
        last: str | float = ...,
        relief: Literal["rectangular", "round", "none"] = ...,
        wide: str | float = ...,
        deep: str | float = ...,
        corners: Literal["open", "closed"] = ...,
        gap: str | float = ...,
        beyond: str | float = ...,
    ) -> Change: ...
    @overload
    def do(self, call: Literal["forget aside"], /, *, what: Sequence[str] | str) -> Change: ...
    @overload
    def do(self, call: Literal["forget value"], /, *, name: str) -> Change: ...
    @overload
    def do(self, call: Literal["gather"], /, *, called: str, step: int | str = ...) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["give back"],
        /,
        *,
        face: Picks,
        share: str | float = ...,
        end: Literal["first", "second"] = ...,
    ) -> Change: ...
    @overload
    def do(self, call: Literal["group parts"], /, *, parts: Picks, called: str = ...) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["hold"],
        /,
        *,
        on: Picks,
        kind: Literal["fixed", "frictionless", "cylindrical", "displacement", "elastic"] = ...,
        x: str | float = ...,
        y: str | float = ...,
        z: str | float = ...,
        radial: Literal["held", "free"] = ...,
        tangential: Literal["held", "free"] = ...,
        axial: Literal["held", "free"] = ...,
        ground: str | float = ...,
        temperature: str | float = ...,
        study: str = ...,
        called: str = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["hollow"],
        /,
        *,
        faces: Picks,
        thickness: str | float,
        other: str | float = ...,
        thick: Picks = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["import"],
        /,
        *,
        path: str,
        units: Literal["mm", "cm", "m", "in", "ft"] = ...,
        name_as: str = ...,
        what: Literal["parts", "locked", "light"] = ...,
        tree: Literal["kept", "one"] = ...,
        heal: Literal["usual", "leave", "stitch", "mend"] = ...,
        widest: str | float = ...,
    ) -> Change: ...
    @overload
    def do(self, call: Literal["imprint"], /, *, areas: Picks) -> Change: ...
    @overload
    def do(self, call: Literal["into group"], /, *, parts: Picks, group: Picks = ...) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["join"],
        /,
        *,
        of: Picks,
        to: Picks = ...,
        kind: Literal["coaxial", "on", "distance", "parallel", "angle", "tangent", "fixed", "centred"] = ...,
        distance: str | float = ...,
        angle: str | float = ...,
        least: str | float = ...,
        least_angle: str | float = ...,
        most: str | float = ...,
        most_angle: str | float = ...,
        way: Literal["nearest", "flipped"] = ...,
        called: str = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["keep"],
        /,
        *,
        on: Picks,
        rule: Literal[
            "together",
            "level",
            "upright",
            "parallel",
            "square",
            "in line",
            "equal",
            "one middle",
            "middle",
            "mirrored",
            "on",
            "tangent",
            "fixed",
        ] = ...,
    ) -> Change: ...
    @overload
    def do(self, call: Literal["keep variants"], /, *, rows: Sequence[Any] | str) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["let touch"],
        /,
        *,
        kind: Literal["bonded", "sliding", "opening", "none"] = ...,
        parts: Picks = ...,
        gap: str | float = ...,
        study: str = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["letter"],
        /,
        *,
        face: Picks,
        words: str,
        font: Literal["sans", "bold", "serif", "mono"] = ...,
        height: str | float = ...,
        way: Literal["raised", "cut"] = ...,
        depth: str | float = ...,
        across: str | float = ...,
        up: str | float = ...,
        angle: str | float = ...,
    ) -> Change: ...
    @overload
    def do(self, call: Literal["lift out"], /, *, faces: Picks, way: Literal["cut", "copy"] = ...) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["line up"],
        /,
        *,
        faces: Picks,
        stays: Literal["first", "second"] = ...,
        moving: Literal["feature", "part"] = ...,
    ) -> Change: ...
    @overload
    def do(self, call: Literal["link in"], /, *, source: str | Mapping[str, Any]) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["load"],
        /,
        *,
        on: Picks = ...,
        kind: Literal[
            "force", "pressure", "bearing", "moment", "remote", "weight", "rotation", "warmth", "heat", "air"
        ] = ...,
        x: str | float = ...,
        y: str | float = ...,
        z: str | float = ...,
        about_x: str | float = ...,
        about_y: str | float = ...,
        about_z: str | float = ...,
        amount: str | float = ...,
        speed: str | float = ...,
        way: Literal["x", "y", "z", "-x", "-y", "-z"] = ...,
        at_x: str | float = ...,
        at_y: str | float = ...,
        at_z: str | float = ...,
        power: str | float = ...,
        warm: str | float = ...,
        film: str | float = ...,
        study: str = ...,
        called: str = ...,
    ) -> Change: ...
    @overload
    def do(self, call: Literal["lock"], /, *, parts: Picks, state: Literal["locked", "unlocked"] = ...) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["loft"],
        /,
        *,
        areas: Picks,
        walls: Literal["smooth", "straight"] = ...,
        guide: Picks = ...,
        way: Literal["joining", "apart", "cutting"] = ...,
    ) -> Change: ...
    @overload
    def do(self, call: Literal["make independent"], /, *, parts: Picks, called: str = ...) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["make sheet"],
        /,
        *,
        on: Picks,
        thickness: str | float = ...,
        rule: Literal["k-factor", "din 6935", "table"] = ...,
        k_factor: str | float = ...,
        table: str = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["make transition"],
        /,
        *,
        thickness: str | float = ...,
        lower: Literal["rectangle", "round"] = ...,
        lower_across: str | float = ...,
        lower_deep: str | float = ...,
        lower_corner: str | float = ...,
        upper: Literal["rectangle", "round"] = ...,
        upper_across: str | float = ...,
        upper_deep: str | float = ...,
        upper_corner: str | float = ...,
        height: str | float = ...,
        x: str | float = ...,
        y: str | float = ...,
        turn: str | float = ...,
        steps: int | str = ...,
        seam: str | float = ...,
        gap: str | float = ...,
        called: str = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["make tube"],
        /,
        *,
        thickness: str | float = ...,
        lower: str | float = ...,
        upper: str | float = ...,
        height: str | float = ...,
        gap: str | float = ...,
        called: str = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["mend"],
        /,
        *,
        what: Literal[
            "everything",
            "missing faces",
            "gaps",
            "turned faces",
            "duplicate faces",
            "crossing outlines",
            "slivers",
            "coarse tolerances",
            "split faces",
            "spline faces",
            "holes",
            "turned triangles",
            "doubled triangles",
            "crowded edges",
            "needles",
            "crumbs",
        ] = ...,
        parts: Picks,
        widest: str | float = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["mend sheet"],
        /,
        *,
        on: Picks,
        what: Literal["all", "round", "square", "thickness", "wedge", "axis", "kink"] = ...,
    ) -> Change: ...
    @overload
    def do(self, call: Literal["merge"], /, *, parts: Picks) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["mesh to solid"],
        /,
        *,
        parts: Picks,
        deviation: str | float = ...,
        place: Literal["instead", "beside"] = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["mirror"],
        /,
        *,
        parts: Picks,
        face: Picks = ...,
        along: Literal["x", "y", "z"] = ...,
        height: str | float = ...,
        result: Literal["apart", "joined", "linked"] = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["move body"],
        /,
        *,
        way: Literal["move", "copy"] = ...,
        parts: Picks,
        along: Literal["x", "y", "z"] = ...,
        axis: Picks = ...,
        distance: str | float = ...,
        until: Picks = ...,
        angle: str | float = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["move curves"],
        /,
        *,
        curves: Picks,
        step: str = ...,
        angle: str | float = ...,
        middle: str = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["move faces"],
        /,
        *,
        distance: str | float = ...,
        way: Literal["move", "copy"] = ...,
        faces: Picks,
        extent: Literal["feature", "picked"] = ...,
        along: Literal["x", "y", "z", "normal"] = ...,
        axis: Picks = ...,
        until: Picks = ...,
        angle: str | float = ...,
        chamfers: Literal["following", "staying"] = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["move free"],
        /,
        *,
        part: Picks,
        motion: Literal["turn", "turn 2", "turn 3", "slide", "slide 2", "slide 3"] = ...,
        angle: str | float = ...,
        distance: str | float = ...,
        contact: Literal["through", "stop"] = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["move on sheet"],
        /,
        *,
        things: Sequence[int] | str,
        step: Sequence[Any] | str,
        sheet: str = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["name set"],
        /,
        *,
        way: Literal["keep", "add", "forget"] = ...,
        things: Picks = ...,
        called: str,
    ) -> Change: ...
    @overload
    def do(self, call: Literal["number parts"], /) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["package"],
        /,
        *,
        parts: Picks = ...,
        revision: str = ...,
        pattern: str = ...,
        despite: Literal["told", "refused"] = ...,
        notes: str = ...,
        called: str = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["pattern"],
        /,
        *,
        faces: Picks,
        count: int | str = ...,
        along: Literal["x", "y", "z", "normal"] = ...,
        axis: Picks = ...,
        step: str | float,
        rows: int | str = ...,
        across: Literal["x", "y", "z"] = ...,
        pitch: str | float = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["pattern around"],
        /,
        *,
        faces: Picks,
        count: int | str = ...,
        axis: Picks,
        angle: str | float = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["picture"],
        /,
        *,
        sketch: Picks,
        what: Literal["scale", "fade", "drop"] = ...,
        places: str = ...,
        length: str | float = ...,
        strength: str | float = ...,
    ) -> Change: ...
    @overload
    def do(self, call: Literal["place dimension"], /, *, dimension: str, off: Sequence[float] = ...) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["plant"],
        /,
        *,
        face: Picks,
        what: Picks,
        way: Literal["as it was", "added", "subtracted"] = ...,
        across: str | float = ...,
        up: str | float = ...,
        angle: str | float = ...,
        after: Literal["kept", "used"] = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["press"],
        /,
        *,
        kind: Literal["dimple", "bead", "collar", "louvre", "knock-out"] = ...,
        size: str | float = ...,
        height: str | float = ...,
        length: str | float = ...,
        turn: str | float = ...,
        face: Picks,
        across: str | float = ...,
        up: str | float = ...,
    ) -> Change: ...
    @overload
    def do(
        self, call: Literal["project"], /, *, edges: Picks, sketch: Picks, role: Literal["outline", "helper"] = ...
    ) -> Change: ...
    @overload
    def do(self, call: Literal["propose sizes"], /, *, sheet: str = ...) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["push"],
        /,
        *,
        faces: Picks,
        distance: str | float = ...,
        until: Picks = ...,
        riders: Literal["alone", "coplanar", "alike", "pattern"] = ...,
        sides: Literal["one", "both"] = ...,
        border: Literal["following", "kept"] = ...,
        chamfers: Literal["following", "staying"] = ...,
        touching: Literal["keeping apart", "joining"] = ...,
    ) -> Change: ...
    @overload
    def do(self, call: Literal["put back"], /, *, what: Sequence[str] | str) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["recognise"],
        /,
        *,
        parts: Picks,
        deviation: str | float = ...,
        what: Literal["faces", "surfaces"] = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["recount"],
        /,
        *,
        face: Picks,
        count: int | str,
        rows: int | str = ...,
        step: str | float = ...,
        angle: str | float = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["remove"],
        /,
        *,
        faces: Picks,
        riders: Literal["alone", "coplanar", "alike", "pattern"] = ...,
        extent: Literal["needed", "feature", "picked"] = ...,
    ) -> Change: ...
    @overload
    def do(self, call: Literal["rename"], /, *, part: Picks, to: str) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["repeat parts"],
        /,
        *,
        parts: Picks,
        count: int | str = ...,
        along: Literal["x", "y", "z"] = ...,
        step: str | float,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["repeat parts around"],
        /,
        *,
        parts: Picks,
        count: int | str = ...,
        axis: Picks,
        angle: str | float = ...,
    ) -> Change: ...
    @overload
    def do(self, call: Literal["replace"], /, *, part: Picks, newer: Picks, near: str | float = ...) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["resize"],
        /,
        *,
        size: str | float = ...,
        measure: Literal["diameter", "radius", "thickness", "width"] = ...,
        faces: Picks,
        riders: Literal["alone", "coplanar", "alike", "pattern"] = ...,
        like: Picks = ...,
        chamfers: Literal["following", "staying"] = ...,
    ) -> Change: ...
    @overload
    def do(self, call: Literal["rest joint"], /, *, joint: str, state: Literal["rest", "wake"] = ...) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["revolve"],
        /,
        *,
        areas: Picks,
        axis: Picks,
        angle: str | float = ...,
        way: Literal["joining", "apart", "cutting"] = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["rib"],
        /,
        *,
        curve: Picks,
        side: Literal["either", "left", "right"] = ...,
        thickness: str | float = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["rip"],
        /,
        *,
        edges: Picks,
        gap: str | float = ...,
        way: Literal["first", "second", "open"] = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["round"],
        /,
        *,
        edges: Picks,
        size: str | float,
        end: str | float = ...,
        run: Literal["tangent", "loop"] = ...,
    ) -> Change: ...
    @overload
    def do(self, call: Literal["round corners"], /, *, corners: Picks, radius: str | float) -> Change: ...
    @overload
    def do(self, call: Literal["round over"], /, *, faces: Picks) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["save drawing"],
        /,
        *,
        which: str = ...,
        format: Literal["pdf", "dxf", "svg"] = ...,
        file_name: str = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["save flat"],
        /,
        *,
        on: Picks,
        format: Literal["dxf", "svg", "pdf"] = ...,
        file_name: str = ...,
        forms: Literal["outline", "centre", "both", "none"] = ...,
    ) -> Change: ...
    @overload
    def do(
        self, call: Literal["save print"], /, *, parts: Picks, format: Literal["3mf", "stl"] = ..., file_name: str = ...
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["save section"],
        /,
        *,
        at: str,
        parts: Picks = ...,
        format: Literal["svg", "dxf"] = ...,
        hatching: Literal["hatched", "plain"] = ...,
        file_name: str = ...,
    ) -> Change: ...
    @overload
    def do(self, call: Literal["save sketch"], /, *, sketch: Picks, format: Literal["dxf", "svg"] = ...) -> Change: ...
    @overload
    def do(
        self, call: Literal["scale"], /, *, parts: Picks, factor: str | float, centre: Literal["middle", "origin"] = ...
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["section curves"],
        /,
        *,
        sketches: Picks,
        parts: Picks = ...,
        kinds: Literal["arcs", "lines", "splines"] = ...,
        deviation: str | float = ...,
        shortest: str | float = ...,
    ) -> Change: ...
    @overload
    def do(
        self, call: Literal["set aside"], /, *, faces: Picks, members: Literal["alone", "alike"] = ...
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["set bend"],
        /,
        *,
        bends: Picks,
        radius: str | float,
        riders: Literal["alone", "alike"] = ...,
    ) -> Change: ...
    @overload
    def do(
        self, call: Literal["set elements"], /, *, on: Picks = ..., size: str | float = ..., study: str = ...
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["set face finish"],
        /,
        *,
        faces: Picks,
        surface: Literal[
            "plain",
            "oiled oak",
            "dark walnut",
            "birch plywood",
            "brushed aluminium",
            "cast aluminium",
            "polished steel",
            "blackened steel",
            "brass",
            "bronze",
            "glossy plastic",
            "satin plastic",
            "grained plastic",
            "printed plastic",
            "rubber",
            "matt paint",
            "gloss paint",
            "hammered paint",
        ] = ...,
    ) -> Change: ...
    @overload
    def do(self, call: Literal["set face finish colour"], /, *, faces: Picks, colour: str = ...) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["set finish"],
        /,
        *,
        parts: Picks,
        surface: Literal[
            "plain",
            "oiled oak",
            "dark walnut",
            "birch plywood",
            "brushed aluminium",
            "cast aluminium",
            "polished steel",
            "blackened steel",
            "brass",
            "bronze",
            "glossy plastic",
            "satin plastic",
            "grained plastic",
            "printed plastic",
            "rubber",
            "matt paint",
            "gloss paint",
            "hammered paint",
        ] = ...,
    ) -> Change: ...
    @overload
    def do(self, call: Literal["set finish colour"], /, *, parts: Picks, colour: str = ...) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["set joint"],
        /,
        *,
        joint: str,
        distance: str | float = ...,
        angle: str | float = ...,
        least: str | float = ...,
        least_angle: str | float = ...,
        most: str | float = ...,
        most_angle: str | float = ...,
        way: Literal["kept", "flipped"] = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["set material"],
        /,
        *,
        parts: Picks,
        material: Literal[
            "cast aluminium",
            "wrought aluminium",
            "structural steel",
            "stainless steel",
            "tin bronze",
            "brass",
            "ABS",
            "polyamide 12",
            "polycarbonate",
            "PETG",
            "acetal",
            "silicone rubber",
        ] = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["set off"],
        /,
        *,
        curve: Picks,
        distance: str | float,
        corners: Literal["sharp", "round"] = ...,
        sides: Literal["one", "both"] = ...,
        ends: Literal["open", "straight", "round"] = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["set part data"],
        /,
        *,
        value: str = ...,
        parts: Picks,
        what: Literal["part_number", "stock_number", "maker", "finish", "process", "note", "source", "price"] = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["set print"],
        /,
        *,
        parts: Picks,
        machine: Literal[
            "Desk printer", "Desk printer with a fine nozzle", "Large printer", "Resin printer", "Powder bed"
        ] = ...,
        best: Literal["0", "1", "2", "3", "4", "5"] = ...,
        down: Picks = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["set sheet"],
        /,
        *,
        sheet: str = ...,
        size: Literal["as it is", "A4", "A3", "A2", "A1", "A0", "ANSI A", "ANSI B", "ANSI C", "ANSI D", "ANSI E"] = ...,
        angle: Literal["as it is", "first", "third"] = ...,
        called: str = ...,
        entry: Literal[
            "owner",
            "title",
            "number",
            "revision",
            "date",
            "creator",
            "approver",
            "type",
            "status",
            "material",
            "mass",
            "tolerances",
            "group",
        ] = ...,
        value: str = ...,
    ) -> Change: ...
    @overload
    def do(self, call: Literal["set tolerance"], /, *, called: str, text: str = ...) -> Change: ...
    @overload
    def do(self, call: Literal["set value"], /, *, name: str, value: str | float) -> Change: ...
    @overload
    def do(self, call: Literal["set values"], /, *, rows: Mapping[str, Any] | str) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["set view"],
        /,
        *,
        view: int | str = ...,
        scale: str | float = ...,
        hidden: Literal["same", "yes", "no"] = ...,
        smooth: Literal["same", "yes", "no"] = ...,
        along: Literal["x", "y"] = ...,
        low: str | float = ...,
        high: str | float = ...,
        breaks: Literal["kept", "mended"] = ...,
        sheet: str = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["set written"],
        /,
        *,
        item: int | str,
        words: Mapping[str, Any] | str = ...,
        at: Sequence[Any] | str = ...,
        sheet: str = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["share"],
        /,
        *,
        parts: Picks = ...,
        inside: Literal["all", "outside"] = ...,
        names: Literal["yes", "no"] = ...,
        figures: Literal["yes", "no"] = ...,
        along: Literal["views", "both", "none"] = ...,
        beside: Literal["no", "glb"] = ...,
        called: str = ...,
        views: Mapping[str, Any] | Sequence[Any] = ...,
        notes: Mapping[str, Any] | Sequence[Any] = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["simplify curves"],
        /,
        *,
        curves: Picks,
        kinds: Literal["arcs", "lines", "splines"] = ...,
        deviation: str | float = ...,
        shortest: str | float = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["sketch"],
        /,
        *,
        on: Picks = ...,
        plane: Literal["xy", "xz", "yz"] = ...,
        offset: str | float = ...,
        angle: str | float = ...,
        count: int | str = ...,
    ) -> Change: ...
    @overload
    def do(
        self, call: Literal["slit"], /, *, ends: Picks, share: str | float = ..., gap: str | float = ...
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["slot"],
        /,
        *,
        faces: Picks,
        distance: str | float,
        along: Literal["x", "y", "z", "normal"] = ...,
        axis: Picks = ...,
    ) -> Change: ...
    @overload
    def do(self, call: Literal["smooth"], /, *, parts: Picks, rounds: int | str = ...) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["split"],
        /,
        *,
        parts: Picks,
        face: Picks = ...,
        along: Literal["x", "y", "z"] = ...,
        height: str | float = ...,
        pins: str | float = ...,
        drop: str = ...,
    ) -> Change: ...
    @overload
    def do(self, call: Literal["split curve"], /, *, curve: Picks, at: str) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["split face"],
        /,
        *,
        faces: Picks,
        way: Literal["plane", "corners", "square", "part", "across", "along"] = ...,
        tool: Picks = ...,
        share: str | float = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["spread"],
        /,
        *,
        parts: Picks,
        along: Literal["x", "y", "z"] = ...,
        axis: Picks = ...,
        distance: str | float = ...,
        called: str = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["stand in"],
        /,
        *,
        component: Picks,
        item: str = ...,
        by: Picks = ...,
        turn: str | float = ...,
        across: str | float = ...,
        up: str | float = ...,
        lift: str | float = ...,
    ) -> Change: ...
    @overload
    def do(self, call: Literal["stitch"], /, *, parts: Picks, tolerance: str | float = ...) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["sweep"],
        /,
        *,
        areas: Picks,
        along: Picks,
        way: Literal["joining", "apart", "cutting"] = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["take from the shelf"],
        /,
        *,
        item: str = ...,
        on: Picks = ...,
        holes: Literal["one", "alike"] = ...,
        extras: Literal["none", "washer", "nut", "nut and washers"] = ...,
        threads: Literal["plain", "real"] = ...,
        stay: Literal["joined", "free"] = ...,
    ) -> Change: ...
    @overload
    def do(self, call: Literal["take newer"], /, *, part: Picks, source: str | Mapping[str, Any]) -> Change: ...
    @overload
    def do(
        self, call: Literal["teardrop"], /, *, holes: Picks, angle: str | float = ..., flat: str | float = ...
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["thicken"],
        /,
        *,
        faces: Picks,
        thickness: str | float,
        sides: Literal["one", "both"] = ...,
        way: Literal["joining", "apart", "cutting"] = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["tie"],
        /,
        *,
        ends: Picks,
        distance: str | float = ...,
        way: Literal["straight", "x", "y", "z", "angle"] = ...,
        called: str = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["tilt"],
        /,
        *,
        faces: Picks,
        riders: Literal["alone", "coplanar", "alike", "pattern"] = ...,
        angle: str | float,
        axis: Picks,
        chamfers: Literal["following", "staying"] = ...,
    ) -> Change: ...
    @overload
    def do(self, call: Literal["trim"], /, *, curve: Picks, at: str) -> Change: ...
    @overload
    def do(self, call: Literal["turn over"], /, *, faces: Picks) -> Change: ...
    @overload
    def do(self, call: Literal["twist"], /, *, face: Picks, angle: str | float, axis: Picks = ...) -> Change: ...
    @overload
    def do(self, call: Literal["unbend"], /, *, bends: Picks) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["wind"],
        /,
        *,
        areas: Picks,
        axis: Picks,
        height: str | float,
        pitch: str | float,
        hand: Literal["right", "left"] = ...,
        taper: str | float = ...,
        way: Literal["joining", "apart", "cutting"] = ...,
    ) -> Change: ...
    @overload
    def do(
        self,
        call: Literal["write on sheet"],
        /,
        *,
        kind: Literal[
            "distance",
            "angle",
            "radius",
            "diameter",
            "ordinate",
            "hole",
            "thread",
            "chamfer",
            "datum",
            "tolerance",
            "surface",
            "edges",
            "weld",
            "centre",
            "bolt circle",
            "note",
            "balloon",
            "parts list",
            "hole table",
            "bend table",
            "revisions",
        ],
        on: Sequence[str] = ...,
        view: int | str = ...,
        near: Sequence[Any] | str = ...,
        at: Sequence[Any] | str = ...,
        words: Mapping[str, Any] | str = ...,
        sheet: str = ...,
    ) -> Change: ...
    @overload
    def study(self, *, parts: Sequence[str] = ..., called: str | None = ...) -> StudyFace: ...
    @overload
    def study(
        self, call: Literal["alike"], /, *, picked: str, tolerance: str | float = ..., everywhere: bool = ...
    ) -> Any: ...
    @overload
    def study(self, call: Literal["apart"], /, *, called: str) -> Any: ...
    @overload
    def study(self, call: Literal["bend order"], /, *, on: Picks) -> Any: ...
    @overload
    def study(self, call: Literal["bill"], /, *, level: Literal["flat", "tree"] = ...) -> Any: ...
    @overload
    def study(
        self,
        call: Literal["bill file"],
        /,
        *,
        level: Literal["flat", "tree"] = ...,
        kind: Literal["csv", "xlsx", "pdf", "json"] = ...,
        title: str = ...,
        columns: Mapping[str, Any] | Sequence[Any] = ...,
        lot: Mapping[str, Any] | Sequence[Any] = ...,
    ) -> Any: ...
    @overload
    def study(
        self,
        call: Literal["blanks"],
        /,
        *,
        on: Picks,
        long: str | float = ...,
        wide: str | float = ...,
        gap: str | float = ...,
        edge: str | float = ...,
    ) -> Any: ...
    @overload
    def study(
        self, call: Literal["bounds"], /, *, edit: str, values: Mapping[str, Any] | Sequence[Any], of: str
    ) -> Any: ...
    @overload
    def study(self, call: Literal["check up"], /) -> Any: ...
    @overload
    def study(
        self, call: Literal["clearance"], /, *, within: str | float = ..., hidden: Sequence[str] = ...
    ) -> Any: ...
    @overload
    def study(self, call: Literal["compare"], /, *, before: str, apart: bool = ...) -> Any: ...
    @overload
    def study(self, call: Literal["cut"], /, *, plane: Sequence[float], hidden: Sequence[str] = ...) -> Any: ...
    @overload
    def study(self, call: Literal["describe"], /, *, picked: Sequence[str] = ..., stage: str = ...) -> Any: ...
    @overload
    def study(self, call: Literal["dimensions"], /) -> Any: ...
    @overload
    def study(self, call: Literal["features"], /, *, part: str) -> Any: ...
    @overload
    def study(self, call: Literal["fits"], /, *, picked: Sequence[str]) -> Any: ...
    @overload
    def study(self, call: Literal["fits of all"], /) -> Any: ...
    @overload
    def study(self, call: Literal["flat"], /, *, on: Picks) -> Any: ...
    @overload
    def study(self, call: Literal["folding"], /, *, on: Picks, share: str | float = ...) -> Any: ...
    @overload
    def study(self, call: Literal["freedoms"], /, *, node: str) -> Any: ...
    @overload
    def study(
        self, call: Literal["frequencies"], /, *, called: str = ..., count: int | str = ..., which: int | str = ...
    ) -> Any: ...
    @overload
    def study(
        self, call: Literal["grow selection"], /, *, picked: Sequence[str], way: Literal["loop", "run", "chain"] = ...
    ) -> Any: ...
    @overload
    def study(self, call: Literal["joints"], /) -> Any: ...
    @overload
    def study(self, call: Literal["loose motion"], /, *, called: str = ..., which: int | str = ...) -> Any: ...
    @overload
    def study(self, call: Literal["map"], /, *, kind: str, nodes: Sequence[str], pull: str = ...) -> Any: ...
    @overload
    def study(self, call: Literal["masses"], /) -> Any: ...
    @overload
    def study(self, call: Literal["mesh"], /, *, body: str, fine: bool = ...) -> Any: ...
    @overload
    def study(
        self,
        call: Literal["on sheet"],
        /,
        *,
        sheet: str = ...,
        view: int | str = ...,
        on: Sequence[str] = ...,
        near: Sequence[Any] | str = ...,
    ) -> Any: ...
    @overload
    def study(
        self, call: Literal["orientations"], /, *, part: Picks, count: int | str = ..., clean: Picks = ...
    ) -> Any: ...
    @overload
    def study(self, call: Literal["overlap"], /, *, nodes: Sequence[str]) -> Any: ...
    @overload
    def study(self, call: Literal["package missing"], /, *, parts: Picks = ...) -> Any: ...
    @overload
    def study(self, call: Literal["pins"], /, *, pins: Mapping[str, Any] | Sequence[Any]) -> Any: ...
    @overload
    def study(self, call: Literal["plane through"], /, *, picked: Picks) -> Any: ...
    @overload
    def study(
        self,
        call: Literal["play"],
        /,
        *,
        part: Picks,
        motion: Literal["turn", "turn 2", "turn 3", "slide", "slide 2", "slide 3"] = ...,
        least_angle: str | float = ...,
        most_angle: str | float = ...,
        least: str | float = ...,
        most: str | float = ...,
        steps: int | str = ...,
    ) -> Any: ...
    @overload
    def study(self, call: Literal["portrait"], /) -> Any: ...
    @overload
    def study(
        self, call: Literal["print check"], /, *, part: Picks, process: Literal["filament", "resin", "powder"] = ...
    ) -> Any: ...
    @overload
    def study(self, call: Literal["print layer"], /, *, part: Picks, layer: int | str = ...) -> Any: ...
    @overload
    def study(self, call: Literal["print mesh"], /, *, part: Picks) -> Any: ...
    @overload
    def study(self, call: Literal["read ahead"], /) -> Any: ...
    @overload
    def study(
        self,
        call: Literal["review page"],
        /,
        *,
        before: str,
        apart: bool = ...,
        title: str = ...,
        said: str = ...,
        notes: Mapping[str, Any] | Sequence[Any] = ...,
    ) -> Any: ...
    @overload
    def study(
        self,
        call: Literal["review report"],
        /,
        *,
        before: str,
        apart: bool = ...,
        title: str = ...,
        was: str = ...,
        now: str = ...,
        verdict: str = ...,
        notes: Mapping[str, Any] | Sequence[Any] = ...,
    ) -> Any: ...
    @overload
    def study(
        self, call: Literal["section facts"], /, *, plane: Sequence[float], hidden: Sequence[str] = ...
    ) -> Any: ...
    @overload
    def study(
        self,
        call: Literal["section width"],
        /,
        *,
        plane: Sequence[float],
        hidden: Sequence[str] = ...,
        at: Sequence[float],
    ) -> Any: ...
    @overload
    def study(
        self,
        call: Literal["shared page"],
        /,
        *,
        title: str = ...,
        said: str = ...,
        inside: bool = ...,
        names: bool = ...,
        figures: bool = ...,
        views: Mapping[str, Any] | Sequence[Any] = ...,
    ) -> Any: ...
    @overload
    def study(self, call: Literal["sheet"], /, *, on: Picks) -> Any: ...
    @overload
    def study(self, call: Literal["sheet checks"], /, *, on: Picks) -> Any: ...
    @overload
    def study(self, call: Literal["sheet drawing"], /, *, sheet: str = ...) -> Any: ...
    @overload
    def study(
        self,
        call: Literal["sheet item"],
        /,
        *,
        sheet: str = ...,
        item: int | str = ...,
        kind: str = ...,
        view: int | str = ...,
        on: Sequence[str] = ...,
        near: Sequence[Any] | str = ...,
        words: Mapping[str, Any] | str = ...,
        at: Sequence[Any] | str,
    ) -> Any: ...
    @overload
    def study(self, call: Literal["sheet picture"], /, *, sheet: str = ...) -> Any: ...
    @overload
    def study(
        self, call: Literal["shelf"], /, *, text: str = ..., kind: str = ..., size: str = ..., material: str = ...
    ) -> Any: ...
    @overload
    def study(self, call: Literal["shelf picture"], /, *, item: str) -> Any: ...
    @overload
    def study(
        self, call: Literal["simulate"], /, *, called: str = ..., scale: str | float = ..., rounds: int | str = ...
    ) -> Any: ...
    @overload
    def study(self, call: Literal["simulated figures"], /, *, called: str = ..., scale: str | float = ...) -> Any: ...
    @overload
    def study(
        self, call: Literal["simulated variant"], /, *, called: str = ..., rows: Mapping[str, Any] | str
    ) -> Any: ...
    @overload
    def study(
        self, call: Literal["standing check"], /, *, least: str | float = ..., hidden: Sequence[str] = ...
    ) -> Any: ...
    @overload
    def study(self, call: Literal["symmetry"], /, *, part: str) -> Any: ...
    @overload
    def study(
        self, call: Literal["tolerance chain"], /, *, formula: str, general: Literal["f", "m", "c", "v"] = ...
    ) -> Any: ...
    @overload
    def study(self, call: Literal["variant"], /, *, rows: Mapping[str, Any] | str) -> Any: ...
    @overload
    def study(self, call: Literal["variant file"], /, *, rows: Mapping[str, Any] | str) -> Any: ...
