"""The forms and buttons of the pages against the edits that they send."""

import re
from pathlib import Path

import pytest

from footing.studies.edits import EDITS
from footing.studies.edits.base import EditModel
from footing.web import app

_WEB = Path(app.__file__).parent
_FORM = re.compile(
    r"<form\b(?P<tag>[^>]*\bdata-kind=\"(?P<kind>\w+)\"[^>]*)>(?P<body>.*?)</form>", re.S
)
_FIELD = re.compile(
    r"<(?:input|select|textarea)\b(?P<rest>(?:[^>{]|\{\{.*?\}\}|\{%.*?%\})*)>", re.S
)
_BUTTON = re.compile(r"data-edit='(?P<edit>.*?)'(?P<rest>[^>]*)", re.S)
_MACROS = {"curve_choice": {"curve", "formula"}, "passage_choice": {"passages"}}
_NESTED = {"data-given": "given", "data-look": "looks"}  # fields of a field
_WITH = {  # what the page adds by itself: see `present` in cards.js
    "source": {"footage", "sheet"},
    "row": {"row"},
    "rows": {"row", "count"},
    "stretch": {"body", "sheet", "x", "y", "points"},
    "body": {"body", "frame"},
    "this_frame": {"about"},
    "after": {"after"},
}


MODELS: dict[str, type[EditModel]] = {edit.model_fields["kind"].default: edit for edit in EDITS}


def templates() -> list[Path]:
    return sorted((_WEB / "templates").glob("*.html"))


def names_in(body: str) -> set[str]:
    """The fields that a form sends."""
    found = set().union(*(names for macro, names in _MACROS.items() if f"{macro}(" in body))
    found |= set(re.findall(r"\{\{ columns\(\"(\w+)\"", body))
    for field in _FIELD.finditer(body):
        rest = field["rest"]
        name = re.search(r"\bname=\"(\w+)\"", rest)
        if name is None:
            continue
        if 'data-type="json"' in rest:  # an object whose keys are fields
            found |= set(re.findall(r"\"(\w+)\":", rest))
            continue
        nested = next((of for attribute, of in _NESTED.items() if attribute in rest), None)
        found.add(nested or name[1])
    return found


def added(tag: str) -> set[str]:
    wanted = re.search(r"data-with=\"(\w+)\"", tag)
    return _WITH.get(wanted[1], {wanted[1]}) if wanted else set()


FORMS = [
    pytest.param(form["kind"], form["tag"], form["body"], id=f"{template.name} {form['kind']} {n}")
    for template in templates()
    for n, form in enumerate(_FORM.finditer(template.read_text()))
]
BUTTONS = [
    pytest.param(button["edit"], button["rest"], id=f"{template.name} {n}")
    for template in templates()
    for n, button in enumerate(_BUTTON.finditer(template.read_text()))
]


def accepts(kind: str, sent: set[str], tag: str) -> bool:
    """Whether an edit has these fields, and one at least of what the page adds."""
    fields = set(MODELS[kind].model_fields)
    more = added(tag)
    return sent <= fields and (not more or bool(more & fields))


@pytest.mark.parametrize(("kind", "tag", "body"), FORMS)
def test_a_form_sends_an_edit_that_there_is(kind: str, tag: str, body: str) -> None:
    assert accepts(kind, names_in(body), tag)


@pytest.mark.parametrize(("edit", "rest"), BUTTONS)
def test_a_button_sends_an_edit_that_there_is(edit: str, rest: str) -> None:
    kind = re.search(r"\"kind\": \"(\w+)\"", edit)
    assert kind is not None
    whole = re.sub(r"\[.*\]", "[]", edit, flags=re.S)  # without the fields of parts
    assert accepts(kind[1], set(re.findall(r"\"(\w+)\":", whole)), rest)


def test_the_scripts_send_edits_that_there_are() -> None:
    scripts = (_WEB / "static" / "js").glob("*.js")
    sent = r"\bsend\(\{\s*kind: \"(\w+)\""
    kinds = {kind for one in scripts for kind in re.findall(sent, one.read_text())}
    assert len(kinds) > 15
    assert kinds <= {*MODELS, "undo", "redo"}


def test_the_pages_have_forms_and_buttons() -> None:
    assert len(FORMS) > 30
    assert len(BUTTONS) > 30
