"""A page as it was, with a form on it as somebody filled it in: what is refused is not lost.

The page is drawn anew and its form found by where it goes to; then what was sent is put into its
fields, and those that do not fit are marked, with what is wrong beside them.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from html import escape
from html.parser import HTMLParser
from urllib.parse import urljoin, urlsplit

from werkzeug.datastructures import MultiDict

Attributes = list[tuple[str, str | None]]
Sent = MultiDict[str, str]
VOID = "input"
HERE = "here"  # the page that a form stood on, told with it, where its address is that of an answer
ALWAYS_NEW = ("csrf_token", "once", "revision")  # each time that a form is drawn
NOT_TYPED = ("hidden", "file", "submit", "button", "image", "reset")


@dataclass
class _Form:
    """A form of a page: its id, and hidden fields, by which one is told from others that go to the
    same place."""

    id: str
    hidden: dict[str, str] = field(default_factory=dict)
    names: set[str] = field(default_factory=set)


class _Finder(HTMLParser):
    """Forms of a page that are posted to an address."""

    def __init__(self, page: str, to: str) -> None:
        super().__init__()
        self._page, self._to = page, to
        self.found: list[_Form | None] = []  # one for each form, None for those that go elsewhere
        self._open: _Form | None = None

    def handle_starttag(self, tag: str, attrs: Attributes) -> None:
        """A form, or a field of it."""
        told = dict(attrs)
        if tag == "form":
            at = urlsplit(urljoin(self._page, told.get("action") or "")).path
            posted = (told.get("method") or "").lower() == "post"
            self._open = _Form(told.get("id") or "") if posted and at == self._to else None
            self.found.append(self._open)
        name = told.get("name")
        if self._open is not None and name:
            self._open.names.add(name)
            if tag == "input" and told.get("type") == "hidden" and name not in ALWAYS_NEW:
                self._open.hidden[name] = told.get("value") or ""

    def handle_endtag(self, tag: str) -> None:
        """Its end."""
        if tag == "form":
            self._open = None


def _chosen(found: list[_Form | None], sent: Sent) -> int | None:
    """The form that was sent: the one whose hidden fields say the same, and that has most of what
    came."""

    def alike(number: int) -> tuple[bool, int]:
        form = found[number]
        assert form is not None
        same = all(sent.get(k) == v for k, v in form.hidden.items())
        return same, len(form.names & set(sent))

    ours = [k for k, form in enumerate(found) if form is not None]
    return max(ours, key=alike) if ours else None


class _Filler(HTMLParser):
    """The page, with what was sent in one of its forms."""

    def __init__(
        self, number: int, form_id: str, here: str, sent: Sent, faults: Mapping[str, str]
    ) -> None:
        super().__init__(convert_charrefs=False)
        self._here = f'<input type="hidden" name="{HERE}" value="{escape(here)}">'
        self._number, self._id, self._faults = number, form_id, dict(faults)
        self._left = {name: list(values) for name, values in sent.lists()}
        self._all = {name: set(values) for name, values in sent.lists()}
        self.out: list[str] = []
        self._forms = -1
        self._inside = False
        self._details: list[int] = []  # where each that is open begins
        self._select: str | None = None
        self._option = -1  # where one begins that is told by its words
        self._skips = False  # the words of a text that is replaced
        self._marked, self._faulty = False, bool(faults)
        self._why = ""  # to be said behind the field in hand

    def handle_starttag(self, tag: str, attrs: Attributes) -> None:
        """A field gets its value; others stay as they are."""
        told = dict(attrs)
        if tag == "form":
            self._forms += 1
            self._inside = self._forms == self._number
        if tag == "details":
            self._details.append(len(self.out))
        name = told.get("name") or ""
        ours = self._inside or (self._id and told.get("form") == self._id)
        if ours and tag in ("input", "select", "textarea") and name:
            self._field(tag, name, attrs)
        elif tag == "option" and self._select is not None:
            self._option = -1 if "value" in told else len(self.out)
            value = told.get("value") or ""
            chosen = "value" in told and value in self._all[self._select]
            self._put(tag, attrs, "selected", chosen)
        else:
            self.out.append(self.get_starttag_text() or "")
        if tag == "form" and (told.get("method") or "").lower() == "post":
            self.out.append(self._here)

    def _field(self, tag: str, name: str, attrs: Attributes) -> None:
        if self._faulty:  # the first that does not fit is in hand, and no other
            attrs = [a for a in attrs if a[0] != "autofocus"]
        kind = dict(attrs).get("type") or "text"
        wrong = self._mark(name) if kind != "hidden" else []
        attrs = [*attrs, *wrong]
        if tag == "input" and kind in ("checkbox", "radio"):
            value = dict(attrs).get("value") or "on"
            self._put(tag, attrs, "checked", value in self._all.get(name, ()))
        elif tag == "input" and kind not in NOT_TYPED and name in self._all:
            attrs = [a for a in attrs if a[0] != "value"]
            self._put(tag, [*attrs, ("value", self._next(name))])
        elif tag == "textarea" and name in self._all:
            self._put(tag, attrs)
            self.out.append("\n" + escape(self._next(name)))
            self._skips = True
        else:
            if tag == "select" and name in self._all:
                self._select = name
            self._put(tag, attrs)
        if tag == VOID:
            self._say()

    def _next(self, name: str) -> str:
        left = self._left[name]
        return left.pop(0) if left else ""

    def _mark(self, name: str) -> Attributes:
        """What marks a field that does not fit, the first one at that name; opens what it is in."""
        why = self._faults.pop(name, None)
        if why is None:
            return []
        for at in self._details:
            if " open" not in self.out[at]:
                self.out[at] = self.out[at].replace("<details", "<details open", 1)
        self._why = f'<small class="unfit" id="wrong-{escape(name)}">{escape(why)}</small>'
        marks: Attributes = [("aria-invalid", "true"), ("aria-describedby", f"wrong-{name}")]
        if not self._marked:
            marks.append(("autofocus", None))
            self._marked = True
        return marks

    def _say(self) -> None:
        self.out.append(self._why)
        self._why = ""

    def _put(self, tag: str, attrs: Attributes, flag: str = "", on: bool = False) -> None:
        kept = [a for a in attrs if a[0] != flag]
        if on:
            kept.append((flag, None))
        told = (n if v is None else f'{n}="{escape(v)}"' for n, v in kept)
        self.out.append(f"<{' '.join((tag, *told))}>")

    def handle_endtag(self, tag: str) -> None:
        """The end of something."""
        if tag == "textarea":
            self._skips = False
        self.out.append(f"</{tag}>")
        if tag == "details" and self._details:
            self._details.pop()
        if tag == "form":
            self._inside = False
        if tag in ("select", "textarea"):
            self._select = None if tag == "select" else self._select
            self._say()

    def handle_startendtag(self, tag: str, attrs: Attributes) -> None:
        """As in a drawing."""
        self.out.append(self.get_starttag_text() or "")

    def handle_data(self, data: str) -> None:
        """Words."""
        if self._option >= 0 and self._select is not None and data.strip():
            if data.strip() in self._all[self._select]:
                self.out[self._option] = self.out[self._option].replace(">", " selected>", 1)
            self._option = -1
        if not self._skips:
            self.out.append(data)

    def handle_entityref(self, name: str) -> None:
        """A character by its name."""
        self.handle_data(f"&{name};")

    def handle_charref(self, name: str) -> None:
        """A character by its number."""
        self.handle_data(f"&#{name};")

    def handle_decl(self, decl: str) -> None:
        """The first line."""
        self.out.append(f"<!{decl}>")

    def handle_comment(self, data: str) -> None:
        """A remark."""
        self.out.append(f"<!--{data}-->")


def refilled(html: str, here: str, to: str, sent: Sent, faults: Mapping[str, str]) -> str | None:
    """A page (`html`, at the address `here`) with the form that is posted `to` a path as it was
    `sent`, fields that do not fit marked by `faults`, by name; None where it has no such form."""
    finder = _Finder(urlsplit(here).path, to)
    finder.feed(html)
    number = _chosen(finder.found, sent)
    if number is None:
        return None
    form = finder.found[number]
    assert form is not None
    filler = _Filler(number, form.id, here, sent, faults)
    filler.feed(html)
    filler.close()
    return "".join(filler.out)
