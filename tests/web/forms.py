"""The forms of a page, as a browser would send them."""

from html.parser import HTMLParser

KINDS = ("text", "search", "number", "date", "time", "")


class Forms(HTMLParser):
    """The forms of a page: where each goes, and its fields as a browser would send them."""

    def __init__(self, html):
        super().__init__()
        self.forms, self._open, self._area, self._select = [], None, None, None
        self._worded = []
        self.feed(html)

    def handle_starttag(self, tag, attrs):
        told = dict(attrs)
        if tag == "form":
            self._open = {
                "at": told.get("action", ""), "method": told.get("method", "get"), "fields": {},
                "last": {}, "typed": [], "wrong": [], "file": False,
            }  # fmt: skip
            self.forms.append(self._open)
        if self._open is None:
            return
        name, kind = told.get("name"), told.get("type", "text")
        if "aria-invalid" in told:
            self._open["wrong"].append((name, told.get("aria-describedby")))
        if tag == "input":
            self._input(name, kind, told)
        elif tag == "textarea" and name:
            self._area = name
            self._open["typed"].append(name)
            self._add(name, "")
        elif tag == "select" and name:
            self._select = (name, len(self._open["fields"].get(name, ())))
        elif tag == "option" and self._select:
            name, at = self._select
            values, value = self._open["fields"].setdefault(name, []), [told.get("value") or ""]
            self._open["last"][name] = value
            chosen = len(values) == at or "selected" in told
            if chosen:
                values[at:] = value
            if "value" not in told:  # then its words are it
                self._worded = [value, values] if chosen else [value]

    def _input(self, name, kind, told):
        if kind == "file":
            self._open["file"] = True
        elif name and kind not in ("checkbox", "radio"):
            self._add(name, told.get("value") or "")
            if kind in KINDS:
                self._open["typed"].append(name)
        elif name and "checked" in told:
            self._add(name, told.get("value") or "on")

    def handle_data(self, data):
        if self._area:
            self._open["fields"][self._area][-1] += data
        if self._worded and data.strip():
            for values in self._worded:
                values[-1] = data.strip()
            self._worded = []

    def handle_endtag(self, tag):
        if tag == "form":
            self._open = None
        if tag == "select":
            self._select = None
        if tag == "textarea":
            values = self._open["fields"][self._area]
            values[-1] = values[-1].removeprefix("\n")
            self._area = None

    def _add(self, name, value):
        self._open["fields"].setdefault(name, []).append(value)
