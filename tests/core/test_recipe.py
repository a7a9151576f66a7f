import json
import math
import re

import ezdxf
import pytest

from ravine.cli.recipe import run
from ravine.core import Model, RavineError
from ravine.core.kernel import build
from tests.core.test_sheet import bracket
from tests.parts import step_file


def recipe_file(path, *steps):
    path.write_text(json.dumps({"steps": list(steps)}))
    return str(path)


def test_one_recipe_over_many_files_reports_each(tmp_path, capsys):
    good = [step_file(tmp_path / f"{n}.step", build.box(10 * n, 10, 10), f"Bar {n}") for n in (1, 2)]
    bad = tmp_path / "bad.step"
    bad.write_bytes(b"not a part")
    recipe = recipe_file(
        tmp_path / "thicken.json",
        {"edit": "push", "faces": {"kind": "plane", "normal": [0, 0, 1], "take": "highest"}, "distance": "1/2 in"},
        {"edit": "rename", "part": "all", "to": "Thick bar"},
        {"edit": "export", "parts": "all", "format": "step"},
    )
    out = tmp_path / "out"
    assert run([recipe, *map(str, [*good, bad]), "--out", str(out)]) == 1
    rows = [json.loads(line) for line in capsys.readouterr().out.splitlines()]
    assert [r["file"] for r in rows] == ["1.step", "2.step", "bad.step"]
    assert rows[1]["volume_mm3"] == pytest.approx(20 * 10 * 22.7)
    assert "none of the kinds that are read" in rows[2]["failed"]
    model = Model()
    body = model.do("import", path=str(out / "Thick bar.step")).added[0]
    assert model.body(body).name == "Thick bar"


def test_recipes_that_make_no_sense_are_refused_before_any_file(tmp_path):
    part = str(step_file(tmp_path / "a.step", build.box(1, 1, 1)))
    with pytest.raises(RavineError, match="no edit"):
        run([recipe_file(tmp_path / "r.json", {"edit": "melt"}), part])
    (tmp_path / "x.json").write_text("[]")
    with pytest.raises(RavineError, match="no recipe"):
        run([str(tmp_path / "x.json"), part])


def test_rows_of_a_table_are_tried_after_the_recipe(tmp_path, capsys):
    part = step_file(tmp_path / "block.step", build.box(40, 30, 10), "Block")
    recipe = tmp_path / "recipe.json"
    recipe.write_text(json.dumps({"steps": [{"edit": "set value", "name": "wall", "value": "3 mm"}]}))
    table = tmp_path / "rows.csv"
    table.write_text("wall,other\n4 mm,\n2*wall,\n3,5\n")
    assert run([str(recipe), str(part), "--variants", str(table)]) == 0
    told = json.loads(capsys.readouterr().out)
    assert told["variants"].startswith("1 of 3 rows work")
    lines = (tmp_path / "block-variants.csv").read_text().splitlines()
    assert lines[0] == "wall;other;works;volume mm3;mass kg;wall mm;size mm;why not"
    assert lines[1].startswith("4 mm;;yes;12000;;10;40 x 30 x 10;")
    assert "leads back to itself" in lines[2]
    assert "no value is called “other”" in lines[3]


def test_sheets_are_unfolded_with_what_their_names_and_a_table_say(tmp_path, capsys):
    """Thickness from the file's name, the K-factor from a table; one flat for each file."""
    for name in ("cover_t2.0", "guard_t2.0", "cover_t3.0"):
        step_file(tmp_path / f"{name}.step", bracket(), "Bracket")
    on = {"of": "node", "take": "largest"}
    recipe = tmp_path / "flats.json"
    steps = [
        {"edit": "make sheet", "on": on, "thickness": "{thickness} mm", "k_factor": "{k}"},
        {"edit": "save flat", "on": on, "file_name": "{stem} flat"},
    ]
    recipe.write_text(json.dumps({"file_name": r"_t(?P<thickness>[0-9.]+)$", "steps": steps}))
    table = tmp_path / "each.csv"
    table.write_text("file,k\ncover_t2.0.step,0.4\nguard_t2.0,0.5\ncover_t3.0,0.4\n")
    files = sorted(tmp_path.glob("*.step"))
    assert run([str(recipe), *map(str, files), "--each", str(table)]) == 0
    rows = {r["file"]: r for r in map(json.loads, capsys.readouterr().out.splitlines())}
    assert "K-factor of 0.5" in rows["guard_t2.0.step"]["done"][0]
    assert rows["cover_t3.0.step"]["warnings"] == ["the thickness differs: 3 places"], "it is 2 mm thick"
    wide = {}
    for path in tmp_path.glob("*.dxf"):
        places = [v for e in ezdxf.readfile(path).modelspace().query("LINE") for v in (e.dxf.start, e.dxf.end)]
        wide[path.stem] = max(v.x for v in places) - min(v.x for v in places)
    assert set(wide) == {"cover_t2.0 flat", "guard_t2.0 flat", "cover_t3.0 flat"}
    for name, k in (("cover", 0.4), ("guard", 0.5)):
        assert wide[f"{name}_t2.0 flat"] == pytest.approx(70 + math.pi / 2 * (3 + 2 * k), abs=1e-6)


STEPS = {
    "what a face is not asked for by": (
        {"edit": "push", "faces": {"colour": "red"}, "distance": "1"}, "faces are asked for by .*, not by “colour”"),
    "what no face is": ({"edit": "push", "faces": {"kind": "torus"}, "distance": "1"}, "no face matches"),
    "what is no way to take one": (
        {"edit": "push", "faces": {"kind": "plane", "take": "longest"}, "distance": "1"},
        "take is all, highest or largest"),
    "what the gap does not take": (
        {"edit": "push", "faces": {"of": "edge", "kind": "line"}, "distance": "1"}, "takes face, not “edge”"),
    "an edge by its length": (
        {"edit": "round", "edges": {"length": 999}, "size": "1"}, "no edge matches"),
    "a part of no such material": (
        {"edit": "rename", "part": {"material": "lead"}, "to": "x"}, "no part matches"),
    "a word that stands for nothing": (
        {"edit": "rename", "part": "all", "to": "{maker}"}, "maker} stands for nothing here; there is stem"),
    "a value that is none": (
        {"edit": "push", "faces": {"kind": "plane", "take": "highest"}, "distance": "far"},
        "no size is called|is not a length"),
}  # fmt: skip


@pytest.mark.parametrize("name", STEPS)
def test_a_step_that_does_not_fit_a_file_fails_for_that_file_alone(tmp_path, capsys, name):
    """It is told in its row; the next file is done."""
    step, words = STEPS[name]
    files = [str(step_file(tmp_path / f"{n}.step", build.box(10, 10, n), "Bar")) for n in (1, 2)]
    assert run([recipe_file(tmp_path / "r.json", step), *files]) == 1
    rows = [json.loads(line) for line in capsys.readouterr().out.splitlines()]
    assert [row["file"] for row in rows] == ["1.step", "2.step"]
    for row in rows:
        assert re.search(words, row["failed"]), row["failed"]


def test_words_come_from_the_name_of_the_file_and_from_a_table(tmp_path, capsys):
    part = str(step_file(tmp_path / "R100_b.step", build.box(10, 10, 10), "Bar"))
    recipe = tmp_path / "r.json"
    told = {"file_name": "(?P<number>[A-Z][0-9]+)_(?P<rev>.)",
            "steps": [{"edit": "rename", "part": "all", "to": "{number}-{rev}-{maker}"}]}  # fmt: skip
    recipe.write_text(json.dumps(told))
    table = tmp_path / "each.csv"
    table.write_text("file,maker\nR100_b.step,Otter\n")
    assert run([str(recipe), part, "--each", str(table)]) == 0
    assert "R100-b-Otter" in json.loads(capsys.readouterr().out)["done"][0]
    other = str(step_file(tmp_path / "plain.step", build.box(10, 10, 10), "Bar"))
    assert run([str(recipe), other, "--each", str(table)]) == 1
    assert "does not fit the recipe's file_name" in capsys.readouterr().out
    table.write_text("name,maker\nx,y\n")
    with pytest.raises(RavineError, match="has no column “file”"):
        run([str(recipe), part, "--each", str(table)])
