"""The way in: a token that is good once, a cookie that only its own pages send, and nothing else."""

from __future__ import annotations

import http.client

import pytest

from ravine.web.entrance import cookie_name, new_token, pass_of


def ask(stack, method, path, headers=None, body=None):
    connection = http.client.HTTPConnection("127.0.0.1", stack.port, timeout=30)
    connection.request(method, path, body, headers or {})
    answer = connection.getresponse()
    return answer.status, answer.headers, answer.read().decode(errors="replace")


def addresses(stack, ident):
    return ["/", f"/m/{ident}", f"/m/{ident}/scene", f"/m/{ident}/panels", "/help", "/edits.json",
            f"/models/{ident}/picture.png", "/no/such/page"]  # fmt: skip


def test_a_stranger_of_this_machine_reads_and_changes_nothing(stack, page):
    ident = page.new("Kept to ourselves")
    for path in addresses(stack, ident):
        status, _, text = ask(stack, "GET", path)
        assert status == 403, path
        assert "Kept to ourselves" not in text
        assert "has not been let in" in text
    for path in ("/models", f"/models/{ident}/delete", f"/m/{ident}/edits", f"/m/{ident}/step"):
        assert ask(stack, "POST", path, {"X-Ravine": "1"}, "name=x")[0] == 403, path
    assert page.scene(ident)["bodies"] == []
    assert ask(stack, "GET", "/alive")[0] == 200


@pytest.mark.parametrize("guess", ["", "x", "0" * 64, "let in"])
def test_a_guessed_cookie_is_none(stack, guess):
    cookie = f"{cookie_name(f'127.0.0.1:{stack.port}')}={guess}"
    assert ask(stack, "GET", "/", {"Cookie": cookie})[0] == 403


def test_the_printed_address_lets_one_window_in(stack):
    address = stack.entering().removeprefix(stack.address)
    token = address.partition("=")[2]
    assert ask(stack, "GET", f"/?enter={token[:-1]}.")[0] == 403
    assert stack.entrance.exists(), "a wrong guess uses nothing up"
    assert stack.entrance.stat().st_mode & 0o077 == 0
    status, headers, _ = ask(stack, "GET", f"{address}&first=yes")
    assert (status, headers["Location"]) == (302, "/?first=yes"), "the token does not stay in the address"
    cookie = headers["Set-Cookie"]
    assert "HttpOnly" in cookie
    assert "SameSite=Strict" in cookie
    shown = cookie.partition(";")[0]
    assert ask(stack, "GET", "/", {"Cookie": shown})[0] == 200
    assert ask(stack, "GET", address)[0] == 403, "it was used"
    assert not stack.entrance.exists()
    again = new_token(stack.entrance)
    assert again != token
    assert ask(stack, "POST", f"/?enter={again}", {"X-Ravine": "1"})[0] in (403, 405), "only a window that opens it"
    assert stack.entrance.exists()


@pytest.mark.parametrize("site", ["cross-site", "same-site"])
def test_what_another_site_causes_is_refused_even_with_the_cookie(stack, page, site):
    own = {"Cookie": page.cookie, "X-Ravine": "1"}
    assert ask(stack, "GET", "/", own)[0] == 200
    assert ask(stack, "GET", "/", {**own, "Sec-Fetch-Site": "same-origin"})[0] == 200
    for path in ("/", "/edits.json", "/alive"):
        assert ask(stack, "GET", path, {**own, "Sec-Fetch-Site": site})[0] == 403
    assert ask(stack, "POST", "/models", {**own, "Sec-Fetch-Site": site}, "name=x")[0] == 403


def test_headers_keep_other_pages_from_embedding_and_reading(stack, page):
    _, headers, _ = ask(stack, "GET", "/", {"Cookie": page.cookie})
    assert headers["Cross-Origin-Resource-Policy"] == "same-origin"
    assert "form-action 'self'" in headers["Content-Security-Policy"]
    assert "frame-ancestors 'none'" in headers["Content-Security-Policy"]


def test_the_pass_of_one_data_folder_opens_no_other():
    assert pass_of("one key") != pass_of("another key")
    assert len(pass_of("one key")) == 64
    assert cookie_name("127.0.0.1:8471") != cookie_name("127.0.0.1:8472")
