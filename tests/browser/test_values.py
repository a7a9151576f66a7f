"""The table of values and the page of variants: a formula set where it stands, rows tried, one taken over."""

import json

from selenium.webdriver.common.keys import Keys

from tests.browser.test_dimensions import plate, put

assert plate  # the fixture


def write(hand, css, text):
    hand.put(css, Keys.CONTROL, "a", Keys.NULL, text, Keys.ENTER)


def test_a_formula_follows_and_variants_are_tried_and_taken_over(plate, page):
    hand = plate
    hand.until("document.querySelector('.features, #features .none')", "the features")
    put(hand, "low", "high")
    put(hand, "low", "one")
    hand.until("document.querySelectorAll('.values [data-name]').length === 2", "both in the table")
    hand.click("#values summary")
    hand.put("[data-new=called]", "edge")
    write(hand, "[data-new=value]", "15 mm")
    hand.until("document.querySelectorAll('.values [data-name]').length === 3", "the new value")
    write(hand, "[data-name=D2]", "edge + 2")
    hand.until("document.querySelector('.values')?.innerText.includes('= 17 mm')", "the formula")
    assert "Set D2 to edge + 2" in hand.text(".journal .here")
    write(hand, "[data-name=edge]", "20")
    hand.until("document.querySelector('.values')?.innerText.includes('= 22 mm')", "what follows")
    write(hand, "[data-name=edge]", "D2")
    hand.until("document.querySelector('#told').innerText.includes('leads back to itself')", "the refusal")
    assert hand.attribute("[data-name=edge]", "value") == "20 mm", "what was not set is not left standing"

    write(hand, "[data-off-by=edge]", "+0.2 -0.1")
    hand.until("document.querySelector('[data-off-by=edge]')?.dataset.was === '+0.2 -0.1'", "the tolerance")
    write(hand, "[data-chain]", "2*edge")
    hand.until("document.querySelector('#chain')?.innerText.includes('39.8 to 40.4 mm')", "what the chain comes to")

    hand.click("#values a")
    hand.until("document.getElementById('trials')?.dataset.ready", "the page of variants")
    hand.js("document.querySelector('#range [name=name]').value = 'D1'")
    hand.put("#range [name=first]", "70")
    hand.put("#range [name=last]", "100 mm")
    hand.put("#range [name=count]", Keys.CONTROL, "a", Keys.NULL, "4")
    hand.click("#range button")
    hand.until("document.querySelectorAll('#rows tbody tr').length === 4", "the rows")
    paste = """const data = new DataTransfer(); data.setData('text/plain', 'edge\\tD1\\n300\\t90\\n');
        document.querySelector('[data-row="3"] [data-name=edge]').dispatchEvent(
          new ClipboardEvent('paste', {clipboardData: data, bubbles: true, cancelable: true}))"""
    hand.js(paste)
    hand.click("[data-try]")
    hand.until("document.querySelector('#told').innerText === '3 of 4 rows work'", "what came of them")
    told = hand.js("return [...document.querySelectorAll('#rows tbody tr')].map((r) => r.innerText)")
    assert "70 × 40 × 10" in told[0]
    assert hand.js("return document.querySelectorAll('#rows tr.off').length") == 1
    assert hand.js("return document.querySelectorAll('#plot circle').length") == 3
    hand.click('[data-row="1"] [data-take]')
    hand.until("document.querySelector('#told').innerText === 'Row 2 is the model now'", "the row taken over")
    hand.click("[data-keep]")
    hand.until("document.querySelector('#told').innerText === 'Kept with the model'", "the rows kept")
    hand.click(".strip-name a")
    hand.ready()
    assert hand.js("return Math.round(page.box.max.x)") == 80
    rows = json.loads(
        hand.js(
            "return (await (await fetch(bench.url('variants'))).text()).match(/id=.begin.[^>]*>(.*?)<.script>/s)[1]"
        )
    )
    assert [r.get("D1") for r in rows["rows"]] == ["70 mm", "80 mm", "90 mm", "90"]
