import pytest

from ravine.core.edits import registry
from ravine.core.edits.registry import starting_with
from ravine.web.sentence import PAGE_WORDS, typed_edit
from ravine.web.words import fact_text


@pytest.mark.parametrize(
    ("label", "one", "count", "words"),
    [
        ("faces", "", 3, "3 faces"),
        ("faces", "", 1, "1 face"),
        ("copies", "copy", 2, "2 copies"),
        ("copies", "copy", 1, "1 copy"),
        ("rounds follow", "round follows", 0, "0 rounds follow"),
        ("rounds follow", "round follows", 1, "1 round follows"),
    ],
)
def test_counts_read_as_people_say_them(label, one, count, words):
    fact = {"code": "x", "label": label, "one": one, "value": float(count), "quantity": "count", "tone": "plain"}
    assert fact_text(fact, "mm") == words
    if not one:  # facts of journals from before
        assert fact_text({k: v for k, v in fact.items() if k != "one"}, "mm") == words


# --- typed words -----------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("text", "kind", "edit", "rest"),
    [
        ("push 12.5", "face", "push", "12.5"),
        ("fillet 3", "edge", "round", "3"),
        ("draft 2", "face", "tilt", "2"),
        ("shell 1.5", "face", "hollow", "1.5"),
        ("delete", "face", "remove", ""),
        ("delete part", "node", "delete body", ""),
        ("pull 8", "area", "extrude", "8"),
        ("pull 8", "face", "push", "8"),
        ("rotate 90", "node", "move body", "90"),
        ("circular pattern 6", "face", "pattern around", "6"),
        ("move faces 3", "node", "move faces", "3"),
        ("fillet corner 2", "point", "round corners", "2"),
    ],
)
def test_the_trades_other_words_begin_an_edit(text, kind, edit, rest):
    found, left = typed_edit(text, kind)
    assert found is not None
    assert (found.name, left) == (edit, rest)


def test_every_other_word_leads_to_its_edit_and_hides_no_name():
    names = {cls.name for cls in registry().values()}
    for cls in registry().values():
        if cls.name.startswith("zz "):  # planted by other tests
            continue
        assert cls.also, f"{cls.name} is known by no other word"
        for word in cls.also:
            assert word == word.lower().strip()
            assert word not in names, f"“{word}” of {cls.name} is the name of an edit"
            assert word not in PAGE_WORDS
            assert typed_edit(word, cls.offered_for)[0] is not None
            assert cls.name in {e.name for e, _ in starting_with(word)}


def test_a_start_lists_names_before_other_words():
    found = starting_with("ro")
    assert [w for _, w in found][:2] == ["round", "round corners"]
    assert ("move body", "rotate") in [(e.name, w) for e, w in found]
    assert starting_with("") == []
    assert typed_edit("zzz 3", "face") == (None, "zzz 3")
