"""Reading what was handed in: one report after the other, with comments, points, and the return."""

from itertools import pairwise
from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import RedirectResponse, Response

from footing.core.errors import NotThere
from footing.store import hand_ins, records
from footing.store.access import class_study
from footing.store.notices import notify_class
from footing.store.reading import read_study
from footing.store.rows import HandIn, Lab, SchoolClass, Study
from footing.studies.review import comments, judging, standing
from footing.studies.review.comments import NewComment
from footing.studies.review.judging import Judgement, NewCriterion
from footing.studies.review.numbers import differing, differing_texts, numbers_of
from footing.studies.school.lists import moment_text
from footing.web.api.reports import MEDIA_TYPES
from footing.web.downloads import saved_as
from footing.web.report_files import html_as_pdf, page_of
from footing.web.report_view import hand_in_view
from footing.web.routing import DatabaseRoute
from footing.web.security import SeenHandIn, SomeTeacher, TaughtHandIn, TaughtLab, Visitor
from footing.web.templating import templates

router = APIRouter(route_class=DatabaseRoute, include_in_schema=False)

_Text = Annotated[str, Form()]


@router.get("/labs/{lab_id}/hand-ins")
def show_hand_ins(request: Request, teacher: SomeTeacher, lab: TaughtLab) -> Response:
    """What the groups of a lab handed in, and by what it is judged."""
    criteria = hand_ins.criteria_of(lab.id)
    context = {
        "visitor": teacher,
        "lab": lab,
        "school_class": records.fetch(SchoolClass, lab.school_class_id),
        "listed": [(one, hand_in_view(one.hand_in)) for one in standing.listed(lab)],
        "criteria": criteria,
        "most": sum(one.most for one in criteria),
    }
    return templates.TemplateResponse(request, "hand_ins.html", context)


@router.get("/labs/{lab_id}/hand-ins.{form}")
def take_out_grades(lab: TaughtLab, form: standing.Form) -> Response:
    """Findings, points and grades of a lab's hand-ins, as a table."""
    media_type = "text/csv; charset=utf-8" if form == "csv" else MEDIA_TYPES["ods"]
    headers = saved_as(f"{lab.title}, handed in.{form}")
    return Response(standing.table(lab, form), media_type=media_type, headers=headers)


@router.post("/labs/{lab_id}/criteria")
def add_criterion(lab: TaughtLab, name: _Text, most: Annotated[float, Form()]) -> Response:
    """Judge by something more."""
    judging.add_criterion(lab, NewCriterion(name=name, most=most))
    return _to_list(lab)


@router.post("/labs/{lab_id}/criteria/remove")
def remove_criterion(lab: TaughtLab, criterion: Annotated[int, Form()]) -> Response:
    """Judge by something no more."""
    judging.remove_criterion(lab, criterion)
    return _to_list(lab)


def _to_list(lab: Lab) -> Response:
    return RedirectResponse(f"/labs/{lab.id}/hand-ins", status_code=303)


@router.get("/hand-ins/{hand_in_id}")
def show_hand_in(request: Request, visitor: Visitor, hand_in: SeenHandIn) -> Response:
    """A report as it was handed in: for its teacher to be judged, for its group with the review."""
    study = class_study(hand_in.study_id)
    assert study is not None
    every = hand_ins.of_study(study.id)
    shown = comments.shown(hand_in, visitor)
    is_teacher = visitor.role == "teacher"
    criteria = hand_ins.criteria_of(study.lab.id) if study.lab is not None else []
    context = {
        "visitor": visitor,
        "study": study,
        "hand_in": hand_in,
        "at": moment_text(hand_in.made_at),
        "returned": moment_text(hand_in.returned_at) if hand_in.returned_at else "",
        "seen": is_teacher or hand_in.returned_at is not None,
        "every": [hand_in_view(one) for one in every],
        "comments": {
            block["block"]: [one for one in shown if one.place.block == block["block"]]
            for block in hand_in.blocks
        },
        "others": [one for one in shown if one.place.block is None],
        "criteria": criteria,
        "total": judging.total(hand_in, criteria),
        "beside": standing.beside(hand_in, visitor) if is_teacher else None,
        "remarks": hand_ins.remarks_of(visitor.id) if is_teacher else [],
        "around": _around(hand_in, study.lab) if is_teacher else (None, None, 0, 0),
    }
    return templates.TemplateResponse(request, "hand_in.html", context)


def _around(hand_in: HandIn, lab: Lab | None) -> tuple[int | None, int | None, int, int]:
    """The hand-ins before and after one in the list of its lab, which one it is, and of how many.

    An earlier one of a group stands where its latest does.
    """
    listed = [one.hand_in for one in standing.listed(lab)] if lab is not None else []
    keys = [one.id for one in listed]
    own = next((one.id for one in listed if one.study_id == hand_in.study_id), None)
    if own is None:
        return None, None, 0, 0
    after = dict(pairwise(keys))
    before = {later: earlier for earlier, later in after.items()}
    return before.get(own), after.get(own), keys.index(own) + 1, len(keys)


@router.get("/hand-ins/{hand_in_id}/report.{form}")
async def take_out_report(request: Request, hand_in: SeenHandIn, form: str) -> Response:
    """The report as it was handed in, as PDF or as one HTML file."""
    if form not in ("pdf", "html"):
        raise NotThere("There is no such file; take pdf or html.")
    html = page_of(hand_in.title, hand_in.names, hand_in.blocks)
    content = html.encode() if form == "html" else await html_as_pdf(request, html)
    headers = saved_as(f"{hand_in.title}.{form}")
    return Response(content, media_type=MEDIA_TYPES[form], headers=headers)


@router.get("/hand-ins/{hand_in_id}/compare")
def compare(
    request: Request, visitor: Visitor, hand_in: SeenHandIn, other: int | None = None
) -> Response:
    """What differs between two hand-ins of a study, or between one and the study as it is now."""
    every = hand_ins.of_study(hand_in.study_id)
    second = next((one for one in every if one.number == other), None)
    if other is not None and second is None:
        raise NotThere("There is no such report of this study.")
    study = class_study(hand_in.study_id)
    assert study is not None
    numbers = second.numbers if second is not None else numbers_of(study, visitor)
    other_key = second.copy_id if second is not None else study.id
    context = {
        "visitor": visitor,
        "study": study,
        "hand_in": hand_in,
        "at": moment_text(hand_in.made_at),
        "second": second,
        "second_at": moment_text(second.made_at) if second is not None else "",
        "every": [hand_in_view(one) for one in every],
        "differing": differing(hand_in.numbers, numbers),
        "texts": differing_texts(read_study(hand_in.copy_id), read_study(other_key)),
        "compared": len(numbers),
    }
    return templates.TemplateResponse(request, "compare.html", context)


@router.get("/hand-ins/{hand_in_id}/comments")
def read_comments(request: Request, visitor: Visitor, hand_in: SeenHandIn) -> Response:
    """The comments, as a part of the workbench."""
    context = {
        "visitor": visitor,
        "hand_in": hand_in,
        "shown": comments.shown(hand_in, visitor),
        "remarks": hand_ins.remarks_of(visitor.id) if visitor.role == "teacher" else [],
    }
    return templates.TemplateResponse(request, "_comments.html", context)


@router.post("/hand-ins/{hand_in_id}/comments")
def add_comment(
    request: Request,
    visitor: Visitor,
    hand_in: SeenHandIn,
    words: _Text,
    about: _Text = "",
    quote: _Text = "",
    answers: Annotated[int | None, Form()] = None,
) -> Response:
    """Say something at a place, or answer."""
    said = NewComment(words=words, about=about, quote=quote, answers=answers)
    comments.comment(hand_in, visitor, said)
    return _back(request, hand_in)


@router.post("/hand-ins/{hand_in_id}/comments/{comment_id}/remove")
def remove_comment(
    request: Request, visitor: Visitor, hand_in: SeenHandIn, comment_id: int
) -> Response:
    """Take back what one said."""
    comments.take_back(hand_in, visitor, comment_id)
    return _back(request, hand_in)


def _back(request: Request, hand_in: HandIn) -> Response:
    """To the page of the report, or to the comments beside a study that is looked at."""
    beside_study = "/studies/" in request.headers.get("hx-current-url", "")
    rest = "/comments" if beside_study else ""
    return RedirectResponse(f"/hand-ins/{hand_in.id}{rest}", status_code=303)


@router.post("/hand-ins/{hand_in_id}/judgement")
async def judge(request: Request, hand_in: TaughtHandIn) -> Response:
    """Note points by criterion, a grade, and words."""
    form = await request.form()
    points = {
        name.removeprefix("points."): str(value).replace(",", ".").strip() or None
        for name, value in form.items()
        if name.startswith("points.")
    }
    judgement = Judgement.model_validate(
        {
            "points": points,
            "grade": str(form.get("grade", "")),
            "words": str(form.get("words", "")),
        }
    )
    study = class_study(hand_in.study_id)
    judging.judge(hand_in, study.lab if study is not None else None, judgement)
    return RedirectResponse(f"/hand-ins/{hand_in.id}", status_code=303)


@router.post("/hand-ins/{hand_in_id}/return")
def give_back(
    teacher: SomeTeacher, hand_in: TaughtHandIn, again: Annotated[bool, Form()] = False
) -> Response:
    """Return it, and ask for another one if wanted."""
    judging.give_back(hand_in, teacher, again=again)
    _tell(hand_in)
    return RedirectResponse(f"/hand-ins/{hand_in.id}", status_code=303)


@router.post("/hand-ins/{hand_in_id}/keep-back")
def keep_back(hand_in: TaughtHandIn) -> Response:
    """Take a return back."""
    judging.keep_back(hand_in)
    _tell(hand_in)
    return RedirectResponse(f"/hand-ins/{hand_in.id}", status_code=303)


def _tell(hand_in: HandIn) -> None:
    """Open pages of the class are told."""
    study = records.fetch(Study, hand_in.study_id)
    if study is not None:
        notify_class(study.school_class_id, studies=True)
