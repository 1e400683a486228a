"""Every form of the application, refused: what was typed is still there, at its place."""

import re
from contextlib import closing
from html import unescape
from urllib.parse import quote, urljoin, urlsplit

import pytest
from werkzeug.exceptions import HTTPException

from tests.web.forms import Forms
from zesty_plum.demo.seed import seed
from zesty_plum.store.database import connect
from zesty_plum.web import create_app
from zesty_plum.web.server.refilled import ALWAYS_NEW

JUNK = "zz%3" * 1500  # no number, no time, no name of anything, and too long for words


@pytest.fixture(scope="module")
def client(tmp_path_factory):
    app = create_app(tmp_path_factory.mktemp("forms") / "data")
    app.config["WTF_CSRF_ENABLED"] = False
    with closing(connect(app.config["DATABASE"])) as db:
        seed(db, "2026-10-03T18:00:00Z")
    return app.test_client()


SLOW = {"onto.find", "wall.match", "papers.everything", "static"}


def pages_of(client):
    """A page of each kind that a link leads to, from the rooms on: its address and text."""
    urls, seen = client.application.url_map.bind("localhost"), set()
    left = ["/bench", "/wall", "/slips", "/kit/", "/outing/", "/notes/", "/drill/", "/devices"]
    while left:
        at = left.pop(0)
        path, _, query = at.partition("?")
        try:
            kind = urls.match(path)[0], frozenset(q.split("=")[0] for q in query.split("&"))
        except HTTPException:
            continue
        if kind in seen or kind[0] in SLOW:
            continue
        seen.add(kind)
        answer = client.get(at, follow_redirects=True)
        if answer.status_code == 200 and answer.mimetype == "text/html":
            here = answer.request.full_path
            yield here if query else here.rstrip("?"), answer.text
            found = re.findall(r'<a[^>]*href="([^"#]+)', answer.text)
            left += [urljoin(at, unescape(link)) for link in found]


def forms_of(client):
    """Each form with something to type, one of a kind: its page, and what a browser would send."""
    seen = set()
    for page, text in pages_of(client):
        for form in Forms(text).forms:
            kind = re.sub(r"\d+", "N", form["at"]), tuple(form["fields"])
            if form["method"] == "post" and form["typed"] and not form["file"] and kind not in seen:
                seen.add(kind)
                yield page, form


def typed_over(form, bad):
    """What somebody sends who has typed something of their own into each field, and junk into one:
    words that anything takes, and numbers a little off where numbers stood; and who has chosen the
    last of each list."""
    sent = {}
    for name, values in form["fields"].items():
        sent[name] = list(form["last"].get(name, values))
        if name in form["typed"] and name != bad:
            sent[name] = [v if re.fullmatch(r"[\d.:−-]+", v) else f'{v} ü"<' for v in values]
    sent[bad] = [JUNK, *sent[bad][1:]]
    return sent


FEW = 4  # fields of a form that are tried, from first to last


def kept(answer, page, to):
    """The fields of each form of an answer that goes to an address."""
    forms = Forms(answer.text).forms
    return [f for f in forms if urlsplit(urljoin(page, f["at"])).path == to]


def without_token(fields):
    return {name: v for name, v in fields.items() if name not in ("here", *ALWAYS_NEW)}


def test_a_refused_form_keeps_everything_that_was_typed(client):
    refused = set()
    for page, form in forms_of(client):
        to = urlsplit(urljoin(page, form["at"])).path
        every = list(dict.fromkeys(form["typed"]))
        for bad in every[:: -(-len(every) // FEW)]:
            sent = typed_over(form, bad)
            asked = {"Referer": f"http://localhost{quote(page, safe='/?&=%,:~+')}"}
            answer = client.post(to, data=sent, headers=asked)
            if answer.status_code == 400:
                refused.add(re.sub(r"\d+", "N", to))
                found = [without_token(f["fields"]) for f in kept(answer, page, to)]
                assert without_token(sent) in found, (page, to, bad)
    # Those that hold more than a name; others take what they get, as searches do.
    assert refused >= {
        "/outing/N", "/outing/N/shoots", "/outing/days", "/kit/cases", "/kit/cases/N", "/kit/list",
        "/notes/", "/notes/N", "/drill/", "/drill/screen", "/slips/save",
    }  # fmt: skip


def test_what_does_not_fit_is_marked_in_its_labels_words(client):
    page = "/outing/1?shoot=2"
    (form,) = [f for f in Forms(client.get(page).text).forms if "focal" in f["fields"]]
    sent = {**form["fields"], "near": ["0.01"], "lapse": ["soon"], "title": ["Kites <again>"]}
    answer = client.post(form["at"], data=sent, headers={"Referer": f"http://localhost{page}"})
    assert answer.status_code == 400
    text = answer.text
    assert "“How near, m” goes from 0.05 to 10000, not 0.01." in text
    assert '<small class="unfit" id="wrong-near">It goes from 0.05 to 10000, not 0.01.' in text
    (again,) = kept(answer, page, form["at"])
    assert again["wrong"] == [("near", "wrong-near"), ("lapse", "wrong-lapse")]
    assert again["fields"]["title"] == ["Kites <again>"]
    # What is folded away is open, as one of its fields is marked.
    assert re.search(r"<details open[^>]*><summary[^>]*>Brackets, long times, motion", text)
    # Sent again from there, whose address is none that a page has, it is still there.
    once_more = client.post(
        form["at"],
        data={**again["fields"], "near": ["3"]},
        headers={"Referer": f"http://localhost{form['at']}"},
    )
    (third,) = kept(once_more, page, form["at"])
    assert third["wrong"] == [("lapse", "wrong-lapse")]
    assert without_token(third["fields"]) == without_token({**sent, "near": ["3"]})
    # Scripts get the same by name.
    told = client.post(form["at"], data=sent, headers={"Accept": "application/json"}).json
    assert told["faults"]["lapse"] == "It takes a number, as 0.5, not 'soon'."


def test_every_row_of_a_list_that_cannot_be_is_marked(client):
    page = "/kit/list?like=heron-m2"
    (form,) = [f for f in Forms(client.get(page).text).forms if "low-shadows" in f["fields"]]
    wrong = {"name": ["Mine"], "step-shadows": ["half"], "order-colour": ["x"], "slots": ["-1"]}
    sent = {**form["fields"], **wrong}
    answer = client.post("/kit/list", data=sent, headers={"Referer": f"http://localhost{page}"})
    (again,) = [f for f in kept(answer, page, "/kit/list") if f["wrong"]]
    assert {name for name, _ in again["wrong"]} == wrong.keys() - {"name"}
    assert without_token(again["fields"]) == without_token(sent)
    assert answer.text.count("autofocus") == 1 + answer.text.count('tabindex="-1" autofocus')
