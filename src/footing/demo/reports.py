"""Reports of the demo: some are handed in, one was read and returned."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from footing.media.cache import FrameCache
from footing.media.service import FrameService
from footing.settings import Settings
from footing.store.access import class_study
from footing.store.reading import read_study
from footing.store.rows import Body, HandIn, Lab
from footing.studies.report.report import report_of
from footing.studies.report_keys import BlockKind
from footing.studies.review import comments, judging
from footing.studies.review.comments import NewComment
from footing.studies.review.handing_in import hand_in
from footing.studies.review.judging import Judgement, NewCriterion
from footing.studies.school.people import Person
from footing.web.report_files import frozen_here

Does = Callable[..., int]

LOB = {  # by how the text that is to be written begins
    "What moves": "A snowball of 120 g, thrown past a fence post that is **1.50 m** high. The "
    "phone stood on a wall, square to the fence.",
    "What the graph": "The height follows a parabola, $y = y_0 + v_0 t + \\frac{a}{2} t^2$, "
    "within the scatter of our clicks.",
    "The result": "The snowball falls with {g}, which agrees with 9.81 m/s².",
    "Which source": "Nearly all of it comes from the known length: a post measured to the "
    "centimetre makes one per cent.",
}
_SLED = {
    "What moves": "A sled on a slope of 12°, beside a pole.",
    "What the graph": "A parabola, so the acceleration stays the same.",
    "The result": "We found {a}.",
    "Which source": "The ends of the pole are hard to see in the snow.",
}
_CRITERIA = (("the graph and what it shows", 4.0), ("the uncertainty, in words", 3.0))


def write_report(does: Does, study_id: int, words: Mapping[str, str]) -> None:
    """Lay a report out, and write its texts."""
    does("lay_out_report")
    for block in read_study(study_id).report:
        begins = next((one for one in words if block.caption.startswith(one)), None)
        if block.kind == BlockKind.TEXT and begins is not None:
            does("change_block", block=block.id, words=words[begins], caption=block.caption)


@dataclass(frozen=True)
class Run:
    """A study of the sled run, and who works on it."""

    study_id: int
    person: Person
    does: Does


def hand_in_runs(runs: list[Run], lab: Lab, teacher: Person, settings: Settings) -> None:
    """Have some runs handed in; the first is read and returned."""
    for name, most in _CRITERIA:
        judging.add_criterion(lab, NewCriterion(name=name, most=most))
    cache = FrameCache(settings.cache_folder, limit=settings.cache_megabytes * 2**20)
    frames = FrameService(cache, seconds=settings.decode_seconds)
    made = []
    for run in runs:
        write_report(run.does, run.study_id, _SLED)
        study = class_study(run.study_id)
        assert study is not None
        report = report_of(study, run.person)
        blocks = frozen_here(report, settings, frames)
        made.append(hand_in(study, run.person, report, blocks))
    frames.close()
    _read(made[0], lab, teacher)


def _read(handed: HandIn, lab: Lab, teacher: Person) -> None:
    rows = read_study(handed.copy_id)
    body: Body = next(one for of in rows.footages for one in rows.bodies_of(of))
    third = rows.marks_of(body)[2].frame
    graph = next(block["block"] for block in handed.blocks if block["kind"] == BlockKind.GRAPH)
    for about, words in (
        (f"block/{graph}", "Say which axis points down the slope."),
        (f"mark/{body.id}/{third}", "Is this the same spot of the sled as before?"),
    ):
        comments.comment(handed, teacher, NewComment(words=words, about=about))
    criteria = judging.criteria(lab)
    points = dict(zip((one.id for one in criteria), (3.0, 2.0), strict=True))
    judged = judging.judge(
        handed, lab, Judgement(points=points, grade="2+", words="Good work, carefully marked.")
    )
    judging.give_back(judged, teacher, again=False)
