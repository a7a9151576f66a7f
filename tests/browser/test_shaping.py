"""Every edit on faces and edges once through the page: picks, gaps, targets, handles, walls."""

import math

import pytest
from scipy.integrate import quad
from selenium.webdriver.common.keys import Keys

from ravine.core import Model
from ravine.core.kernel import build
from tests.parts import step_file

PLATE = 60 * 40 * 10
BOSS = math.pi * 64 * 12
HOLE = math.pi * 9 * 10
WHOLE = PLATE + BOSS - HOLE


@pytest.fixture(scope="module")
def trial_file(tmp_path_factory):
    """A plate with a boss Ø 16 in the middle and a hole Ø 6 near a corner."""
    shape = build.unite(build.box(60, 40, 10), build.cylinder(8, 12, (30, 20, 10)))
    shape = build.subtract(shape, build.cylinder(3, 20, (10, 10, -5)))
    return step_file(tmp_path_factory.mktemp("trial") / "trial.step", shape, "Trial plate")


class Trial:
    """The bench open on the trial plate; faces and edges by where they are (mm)."""

    def __init__(self, hand, page, ident, folder):
        self.hand, self.page, self.ident, self.folder = hand, page, ident, folder
        hand.js("page.look('corner')")

    def face(self, test):
        """Id of the face whose box (low x, y, z, high x, y, z) passes a JavaScript test on `b`."""
        return self.hand.js(
            f"""const [[_, place]] = bench.view.places, {{faces}} = place.drawable.shape;
            const box = (p) => {{ const b = [1e9, 1e9, 1e9, -1e9, -1e9, -1e9];
              for (let i = 0; i < p.length; i++) {{ const k = i % 3;
                b[k] = Math.min(b[k], p[i]); b[k + 3] = Math.max(b[k + 3], p[i]); }}
              return b.map((v) => Math.round(v * 100) / 100); }};
            return place.body.faces[faces.findIndex((f) => {{ const b = box(f.points); return {test}; }})];"""
        )  # fmt: skip

    def edge(self, test):
        return self.hand.js(
            f"""const [[_, place]] = bench.view.places, {{edges}} = place.drawable.shape;
            return place.body.edges[edges.findIndex((e) => e.length > 3 && (() => {{ const n = e.length;
              const a = [e[0], e[1], e[2]], z = [e[n - 3], e[n - 2], e[n - 1]]; return {test}; }})())];"""
        )

    def pick(self, kind, number):
        """What a click does, also for what is hidden from here."""
        ident = kind[0] + str(number)
        self.hand.js(
            """const [kind, number, id] = arguments, list = kind === 'edge' ? 'edges' : 'faces';
            for (const [node, place] of bench.view.places) { const index = place.body[list].indexOf(number);
              if (index >= 0) bench.pick([{kind, node, index, id}]); }""",
            kind, number, ident,
        )  # fmt: skip
        if not self.hand.js("return bench.line.isOpen"):
            self.hand.until(f"document.querySelector('.actions-in').dataset.picked === '{ident}'", "its actions")

    def open(self, edit):
        self.hand.act(edit)
        self.hand.until(f"page.edit === '{edit}'", "the line")

    def type(self, gap, text):
        self.hand.put(f'#line [name="{gap}"]', Keys.CONTROL, "a", Keys.NULL, text)

    def choose(self, gap, value):
        self.hand.js(
            """const s = document.querySelector(`#line [name="${arguments[0]}"]`); s.value = arguments[1];
            s.dispatchEvent(new Event('input', {bubbles: true}));""",
            gap, value,
        )  # fmt: skip

    def aim(self, gap):
        """Let a gap wait for the next pick."""
        self.hand.click(f'.field-pick[data-field="{gap}"]')
        self.hand.until("document.querySelector('.field-pick.armed')", "a gap that waits")

    def accept(self, words, volume, rel=1e-6):
        hand = self.hand
        hand.quiet()
        hand.accept()
        hand.until(f"document.querySelector('.journal .here')?.innerText.includes({words!r})", f"“{words}”")
        assert self.volume() == pytest.approx(volume, rel=rel)

    def volume(self):
        """mm³ of what the page would save, read back from the file."""
        answer = self.page.edit(self.ident, self.hand.revision(), "export", format="step")
        path = self.folder / "out.step"
        path.write_bytes(answer.blobs[-1])
        model = Model()
        return model.measure(model.do("import", path=str(path)).added[0]).volume


@pytest.fixture
def trial(hand, page, trial_file, tmp_path):
    ident, _ = page.model_with(trial_file, "Trial plate")
    hand.open(ident)
    return Trial(hand, page, ident, tmp_path)


BOSS_WALL = "b[2] === 10 && b[5] === 22"
BOSS_END = "b[2] === 22"
HOLE_WALL = "b[2] === 0 && b[5] === 10 && b[3] < 20 && b[0] > 1"
RIGHT = "b[0] === 60"
BOTTOM = "b[5] === 0"


def test_push_a_round_wall_until_a_corner_and_see_the_wall(trial):
    trial.hand.pick(trial.face(BOSS_WALL))
    trial.open("push")
    trial.hand.until("document.querySelector('#line').dataset.walls", "the walls", 90)
    trial.type("distance", "2")
    trial.accept("Pushed a round face of Trial plate out by 2 mm", PLATE - HOLE + math.pi * 100 * 12)
    trial.hand.pick(trial.face(BOSS_END))
    trial.open("push")
    trial.aim("until")
    trial.hand.click_canvas(*trial.hand.spot_of(trial.face("b[2] === 10 && b[5] === 10")))
    trial.hand.until("document.querySelector('#line-facts').innerText.includes('distance')", "the distance")
    assert trial.hand.js("return bench.line.values().until[0]") == "f"
    assert "12 mm" in trial.hand.text("#line-facts")
    trial.hand.quiet()
    trial.hand.keys(Keys.ESCAPE)


def test_the_bead_stops_at_the_wall(trial):
    hand = trial.hand
    hand.pick(trial.face(BOSS_WALL))
    trial.open("push")
    hand.until("JSON.parse(document.querySelector('#line').dataset.walls || '{}').low != null", "the wall", 90)
    low = hand.js("return bench.handle.walls.low")
    assert low == pytest.approx(-8, abs=0.2)
    assert hand.text("#line-walls").startswith("down to −")
    hand.js("bench.handle.value = -7.5; bench.handle.draw()")
    hand.js("document.querySelector('.knob').focus()")
    for _ in range(30):
        hand.keys(Keys.ARROW_DOWN)
    assert hand.js("return bench.handle.value") == pytest.approx(low, abs=1e-3)


def test_set_a_diameter(trial):
    trial.pick("face", trial.face(HOLE_WALL))
    trial.open("resize")
    assert trial.hand.attribute('#line [name="size"]', "value") == "6 mm"
    trial.type("size", "8")
    trial.accept("Set a hole of Trial plate to Ø 8 mm", PLATE + BOSS - math.pi * 16 * 10)


def test_move_and_copy_a_feature(trial):
    trial.hand.pick(trial.face(BOSS_WALL))
    trial.open("move faces")
    trial.choose("along", "x")
    trial.type("distance", "12")
    trial.accept("Moved a round face of Trial plate along X by 12 mm", WHOLE)
    assert trial.face("b[2] === 22 && b[3] === 50") is not None
    trial.pick("face", trial.face(HOLE_WALL))
    trial.open("move faces")
    trial.choose("way", "copy")
    trial.choose("along", "y")
    trial.type("distance", "18")
    trial.accept("Copied a hole", WHOLE - HOLE)


def test_the_placing_handle_slides_turns_and_is_set_on_an_edge(trial):
    hand = trial.hand
    hand.pick(trial.face(BOSS_WALL))
    trial.open("move faces")
    trial.choose("along", "x")
    hand.until("bench.placing.handle && bench.placing.chosen === 0", "the wires")
    hand.until("document.querySelector('#line').dataset.walls", "the walls", 90)
    hand.drag('[aria-label="Slide along Y"]', -30, 12)  # another wire takes over, in the same grip
    hand.until("bench.placing.chosen === 1 && document.querySelector('#line [name=along]').value === 'y'", "Y")
    hand.until("Math.abs(bench.handle.value) > 0.1", "a value on its knob")
    hand.quiet()
    hand.drag('[aria-label="Turn about Y"]', 30, 30)
    hand.until("Math.abs(bench.placing.arc.value) > 1", "a turn on the arc of that wire")
    hand.quiet()
    trial.type("distance", "-6")
    trial.type("angle", "0")
    trial.accept("Moved a round face of Trial plate along Y by", WHOLE)
    part = hand.js("return page.nodes[0].id")
    hand.js("bench.pick([{kind: 'node', node: arguments[0], index: 0, id: arguments[0]}])", part)
    hand.offered()
    trial.open("move body")
    hand.until("bench.placing.handle", "the wires")
    frames = hand.js("page.look('top'); page.camera.orbit(25, -45); return bench.view.frames")
    hand.until(f"bench.view.frames > {frames}", "the view from above")
    edge = trial.edge("a[2] === 10 && z[2] === 10 && a[0] === 60 && z[0] === 60")
    x, y = hand.js(
        """const p = page.camera.project(page.box.min.clone().set(60, 11, 10));
        const [r, b] = [bench.view.canvas, document.querySelector('.set-on')].map((e) => e.getBoundingClientRect());
        return [p.x + r.x - b.x - b.width / 2, p.y + r.y - b.y - b.height / 2];"""
    )
    hand.drag(".set-on", x, y, steps=6)
    hand.until(f"document.querySelector('#line [name=axis]')?.value === 'e{edge}'", "the edge it is set on")
    hand.until("Math.abs(Math.abs(bench.placing.handle?.direction[1]) - 1) < 1e-9", "Z along the edge")
    trial.type("angle", "90")
    hand.until("bench.placing.arc.at && bench.placing.arc.value === 90", "the arc")
    trial.accept("turned 90° about Z of", WHOLE)
    low, high = hand.js("const {min, max} = page.box; return [min.toArray(), max.toArray()]")
    assert high[2] - low[2] == pytest.approx(60, abs=1e-3)
    hand.keys(Keys.ESCAPE)


def test_tilt_about_a_picked_face_with_the_arc(trial):
    hand = trial.hand
    hand.pick(trial.face(RIGHT))
    trial.open("tilt")
    trial.aim("axis")
    trial.pick("edge", trial.edge("a[0] === 60 && z[0] === 60 && a[2] === 0 && z[2] === 0"))
    hand.until("bench.line.grips.handle?.arm", "the arc")
    trial.type("angle", "5")
    lean = math.tan(math.radians(5))
    hand.until("document.querySelector('.knob-tag')?.textContent === '5°'", "the value on the knob")
    trial.accept("Tilted right side of Trial plate by 5°", WHOLE + 10 * 10 * lean / 2 * 40)


def test_round_and_chamfer_edges_and_push_beside_a_chamfer(trial):
    edge = trial.edge("a[0] === 60 && z[0] === 60 && a[2] === 10 && z[2] === 10")
    trial.pick("edge", edge)
    trial.open("round")
    trial.type("size", "3")
    trial.accept("Rounded an edge of Trial plate with radius 3 mm", WHOLE - (1 - math.pi / 4) * 9 * 40)
    trial.pick("edge", trial.edge("a[0] === 0 && z[0] === 0 && a[2] === 10 && z[2] === 10"))
    trial.open("chamfer")
    trial.type("size", "2")
    whole = WHOLE - (1 - math.pi / 4) * 9 * 40 - 2 * 40
    trial.accept("Chamfered an edge", whole)
    trial.pick("face", trial.face("b[3] === 0"))
    trial.open("push")
    trial.type("distance", "3")
    trial.hand.until("document.querySelector('#line-facts').innerText.includes('1 chamfer follows')", "what follows")
    trial.accept("Pushed left side of Trial plate out by 3 mm", whole + 3 * 10 * 40)
    trial.pick("face", trial.face("b[3] === -3"))
    trial.open("push")
    trial.choose("chamfers", "staying")
    trial.type("distance", "1")
    trial.accept("Pushed left side of Trial plate out by 1 mm", whole + 3 * 10 * 40 + (8 + 7) / 2 * 40)
    trial.pick("face", trial.face(BOTTOM))
    trial.open("push")
    assert not trial.hand.js("return document.querySelector('#line [name=chamfers]')"), "none beside the bottom"


def test_a_chamfer_goes_along_with_a_tilted_and_a_moved_wall_or_stays(trial):
    trial.pick("edge", trial.edge("a[0] === 0 && z[0] === 0 && a[2] === 10 && z[2] === 10"))
    trial.open("chamfer")
    trial.type("size", "2")
    trial.accept("Chamfered an edge", WHOLE - 2 * 40)
    lean = math.tan(math.radians(5))
    trial.pick("face", trial.face("b[3] === 0"))
    trial.open("tilt")
    trial.aim("axis")
    trial.pick("edge", trial.edge("a[0] === 0 && z[0] === 0 && a[2] === 0 && z[2] === 0"))
    trial.type("angle", "5")
    trial.hand.until("document.querySelector('#line-facts').innerText.includes('1 chamfer follows')", "what follows")
    leaning = WHOLE + 10 * 10 * lean / 2 * 40
    words = "Tilted left side of Trial plate by 5°"
    trial.accept(words, leaning - 2 * 2 * math.cos(math.radians(5)) / 2 * 40)
    trial.hand.with_control("z")
    trial.hand.until(f"!document.querySelector('.journal .here')?.innerText.includes({words!r})", "the step back")
    trial.pick("face", trial.face("b[3] === 0"))
    trial.open("tilt")
    trial.choose("chamfers", "staying")
    trial.aim("axis")
    trial.pick("edge", trial.edge("a[0] === 0 && z[0] === 0 && a[2] === 0 && z[2] === 0"))
    trial.type("angle", "5")
    left = (2 + 10 * lean) * (10 - 8 / (1 + lean)) / 2  # between the chamfer, which stays, and the corner
    trial.accept(words, leaning - left * 40)
    trial.pick("face", trial.face("b[3] === 60 && b[0] === 60"))
    trial.open("move faces")
    assert not trial.hand.js("return document.querySelector('#line [name=chamfers]')"), "none beside the right side"


def test_a_bore_is_pushed_until_the_rounds_of_its_rims_meet(hand, page, tmp_path):
    bush = build.subtract(build.cylinder(6, 10), build.cylinder(3, 12, (0, 0, -1)))
    bush = build.fillet(bush, 1, lambda e: e.kind == "circle" and e.middle[2] > 9)
    ident, _ = page.model_with(step_file(tmp_path / "bush.step", bush, "Bush"), "Bush")
    hand.open(ident)
    trial = Trial(hand, page, ident, tmp_path)
    trial.pick("face", trial.face("b[3] === 3 && b[2] === 0"))
    trial.open("push")
    trial.type("distance", "-1.5")
    trial.hand.until("document.querySelector('#line-facts').innerText.includes('1 round follows')", "what follows")
    # a wall of 1.5 mm under two rounds of 1 mm, which meet in its middle, at a radius of 5.25
    gone = quad(lambda u: 4 * math.pi * 5.25 * (1 - math.sqrt(1 - (0.25 + u) ** 2)), 0, 0.75)[0]
    trial.accept("Pushed a hole of Bush in by 1.5 mm", math.pi * (36 - 4.5**2) * 10 - gone)


def test_pull_a_hole_into_a_slot(trial):
    trial.pick("face", trial.face(HOLE_WALL))
    trial.open("slot")
    trial.type("distance", "8")
    trial.accept("Pulled a hole of Trial plate into a slot along X over 8 mm", WHOLE - 8 * 6 * 10)


def test_remove_says_what_goes_along(trial):
    trial.hand.pick(trial.face(BOSS_WALL))
    trial.open("remove")
    trial.hand.until("document.querySelector('#line-facts').innerText.includes('1 more face')", "what goes along")
    trial.accept("Removed a round face of Trial plate", PLATE - HOLE)


def test_rows_and_circles(trial):
    trial.pick("face", trial.face(HOLE_WALL))
    trial.open("pattern")
    trial.choose("along", "y")
    trial.type("step", "10")
    trial.accept("Repeated a hole of Trial plate 3 times along Y every 10 mm", WHOLE - 2 * HOLE)
    trial.pick("face", trial.face("b[0] === 7 && b[1] === 7"))
    trial.open("pattern around")
    trial.type("count", "2")
    trial.aim("axis")
    trial.hand.click_canvas(*trial.hand.spot_of(trial.face(BOSS_WALL)))
    trial.accept("Repeated a hole of Trial plate 2 times around", WHOLE - 3 * HOLE)


def test_a_pattern_is_recounted_and_its_members_change_together(trial):
    trial.pick("face", trial.face(HOLE_WALL))
    trial.open("pattern")
    trial.choose("along", "x")
    trial.type("step", "8")
    trial.accept("Repeated a hole of Trial plate 3 times along X every 8 mm", WHOLE - 2 * HOLE)
    trial.pick("face", trial.face("b[0] === 15 && b[1] === 7"))
    trial.open("recount")
    assert trial.hand.attribute('#line [name="count"]', "value") == "3"
    trial.type("count", "4")
    trial.accept("Recounted the pattern of a hole of Trial plate to 4 members", WHOLE - 3 * HOLE)
    trial.pick("face", trial.face("b[0] === 23 && b[1] === 7"))
    trial.open("resize")
    trial.choose("riders", "pattern")
    trial.type("size", "4")
    trial.accept("Set a hole of Trial plate to Ø 4 mm", PLATE + BOSS - 4 * math.pi * 4 * 10)


def test_round_a_side_over_and_give_part_of_a_round_back(trial):
    trial.hand.pick(trial.face(RIGHT))
    trial.open("round over")
    corners = 2 * (1 - math.pi / 4) * 25 * 40
    trial.accept("Rounded right side of Trial plate over fully", WHOLE - corners)
    trial.pick("edge", trial.edge("a[0] === 0 && z[0] === 0 && a[2] === 10 && z[2] === 10"))
    trial.open("round")
    trial.type("size", "2")
    lost = (1 - math.pi / 4) * 4 * 40
    trial.accept("Rounded an edge", WHOLE - corners - lost)
    trial.pick("face", trial.face("b[0] === 0 && b[2] === 8"))
    trial.open("give back")
    trial.type("share", "25 %")
    trial.accept("Gave back 25 % of a round face of Trial plate", WHOLE - corners - 0.75 * lost)


def test_a_boss_is_twisted_with_the_arc(trial):
    trial.hand.pick(trial.face(BOSS_END))
    trial.open("twist")
    trial.hand.until("bench.line.grips.handle?.arm", "the arc")
    trial.type("angle", "30")
    trial.accept("Twisted top of Trial plate by 30°", WHOLE, rel=1e-5)


def pick_part(trial, name):
    trial.hand.js(
        """[...document.querySelectorAll('.part-name')].find((b) => b.innerText.startsWith(arguments[0])).click()""",
        name,
    )
    trial.hand.until("page.picked[0]?.kind === 'node'", "the part")
    picked = "page.offered"
    trial.hand.until(picked, "its actions")


def test_hollow_split_and_scale_a_part(trial):
    trial.pick("face", trial.face(BOTTOM))
    trial.open("hollow")
    trial.type("thickness", "1")
    inside = 58 * 38 * 9 - math.pi * 16 * 9 + math.pi * 49 * 12  # the hole keeps its wall, the boss is hollow too
    trial.accept("Hollowed out, open at", WHOLE - inside)
    pick_part(trial, "Trial plate")
    trial.open("scale")
    trial.type("factor", "2")
    trial.accept("Scaled Trial plate by 2", 8 * (WHOLE - inside))
    pick_part(trial, "Trial plate")
    trial.open("split")
    trial.choose("along", "x")
    trial.type("height", "30")
    trial.hand.quiet()
    trial.hand.accept()
    trial.hand.until("document.querySelectorAll('.part').length === 2", "two parts")


def test_mirror_and_unite_parts(trial):
    pick_part(trial, "Trial plate")
    trial.open("mirror")
    trial.aim("face")
    trial.hand.click_canvas(*trial.hand.spot_of(trial.face(RIGHT)))
    trial.hand.quiet()
    trial.hand.accept()
    trial.hand.until("document.querySelectorAll('.part').length === 2", "the mirrored part")
    pick_part(trial, "Trial plate")
    trial.open("combine")
    trial.aim("tools")
    other = trial.hand.js("return page.bodies.find((b) => b.name.includes('mirrored')).faces[0]")
    trial.pick("face", other)
    trial.accept("United Trial plate with Trial plate, mirrored", 2 * WHOLE)
    assert trial.hand.js("return page.bodies.length") == 1


def test_drill_a_counterbored_hole_where_the_bead_says(trial):
    trial.pick("face", trial.face(BOTTOM))
    trial.open("drill")
    trial.choose("kind", "counterbored")
    trial.choose("screw", "M3")
    trial.type("across", "12")
    gone = math.pi * 1.7**2 * 10 + math.pi * (3.25**2 - 1.7**2) * 3.4
    trial.accept("Drilled a counterbored hole for M3 into bottom of Trial plate, through", WHOLE - gone)


def test_merge_refuses_where_nothing_is_one(trial):
    trial.hand.pick(trial.face(RIGHT))
    trial.open("merge")
    trial.hand.until("document.querySelector('.refusal')?.innerText.includes('nothing to merge')", "the reason")


def test_a_named_set_is_picked_again_after_an_edit(boss):
    hand = boss
    hand.pick(hand.faces["end"])
    hand.keys("name set")
    hand.keys(Keys.ENTER)
    hand.until("page.edit === 'name set'", "the line")
    hand.put('#line [name="called"]', Keys.CONTROL, "a", Keys.NULL, "Seat")
    hand.accept()
    hand.until("document.querySelector('[data-pick-set]')?.innerText === 'Seat'", "the set in the list")
    hand.keys("push 3", Keys.ENTER)
    hand.until("page.edit === 'push'", "the line")
    hand.quiet()
    hand.accept()
    hand.js("bench.pick([])")
    hand.click("[data-pick-set]")
    hand.until(f"page.ids.join(' ') === 'f{hand.faces['end']}'", "the face picked again")
