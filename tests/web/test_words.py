import pytest

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
