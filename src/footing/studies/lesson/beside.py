"""Two studies of a lab beside each other: their graphs and films, to be compared by the class."""

import hashlib
import json
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

from pydantic import JsonValue

from footing.core.errors import NotThere
from footing.store import lessons
from footing.store.access import class_study
from footing.store.rows import Lab
from footing.studies.lesson.board_graph import Spec, whole
from footing.studies.school.people import Person
from footing.studies.shapes.graphs import GraphShape
from footing.studies.shapes.state import StateShape
from footing.studies.views.shown import AT_GRAPH
from footing.studies.views.view import study_view

_COLOURS = ("#1F5B4A", "#8F5A00")  # of the first and the second
_SHAPES = ("circle", "square")
_HEIGHT = 460


@dataclass(frozen=True)
class Side:
    """One of the two: its study as seen from its first source."""

    study_id: int
    group: str
    view: StateShape

    @property
    def graph(self) -> GraphShape | None:
        """Its first graph, where that has points."""
        shown = next(iter(self.view["graphs"]), None)
        has_points = shown is not None and any(one["points"] for one in shown["series"])
        return shown if has_points else None

    @cached_property
    def film(self) -> dict[str, JsonValue] | None:
        """Which frames there are to look at, each with its moment in seconds; None without."""
        footage = self.view["footage"]
        if footage is None:
            return None
        wanted = range(footage["first"], footage["last"] + 1, footage["stride"])
        times = footage["times"]
        frames: list[JsonValue] = [
            [frame, round(times[frame], 4) if footage["has_time"] else 0.0] for frame in wanted
        ]
        return {
            "address": f"/api/studies/{self.study_id}/footage/{footage['content']}/frames",
            "frames": frames,
        }

    @property
    def film_version(self) -> str:
        """Another one wherever there are other frames to look at, or at other moments."""
        return hashlib.sha256(json.dumps(self.film).encode()).hexdigest()[:12]


def sides(lab: Lab, person: Person, wanted: Sequence[int]) -> tuple[Side, Side]:
    """Two different studies of a lab: those that are wanted, or the first that there are.

    Raises
    ------
    NotThere : if the lab has no two studies.
    """
    by_group = sorted(lessons.studies_of_lab(lab.id), key=lambda one: (one.group or "").casefold())
    there = {one.study.id: one for one in by_group}
    chosen = [study for study in dict.fromkeys(wanted) if study in there]
    chosen += [study for study in there if study not in chosen]
    if len(chosen) < 2:
        raise NotThere("There is no second study in this lab yet.")
    left, right = (
        Side(at.study.id, at.group or "teacher", _view(at.study.id, person))
        for at in (there[study] for study in chosen[:2])
    )
    return left, right


def _view(study_id: int, person: Person) -> StateShape:
    study = class_study(study_id)
    if study is None:
        raise NotThere("There is no such study.")
    return study_view(study, person, shown=AT_GRAPH)


def over_each_other(left: Side, right: Side) -> Spec | None:
    """Both first graphs on one pair of axes; None where these are not of the same quantities."""
    graphs = (left.graph, right.graph)
    if graphs[0] is None or graphs[1] is None or _axes(graphs[0]) != _axes(graphs[1]):
        return None
    x_title, y_title = graphs[0]["x_title"], graphs[0]["y_title"]
    layers: list[JsonValue] = []
    for side, graph, colour, shape in zip((left, right), graphs, _COLOURS, _SHAPES, strict=True):
        if graph is not None:
            layers += _layers(side, graph, colour, shape, (x_title, y_title))
    return whole(layers, [], height=_HEIGHT)


def _axes(graph: GraphShape) -> tuple[str, str, str, str]:
    """The quantities of a graph and their units."""
    first = graph["series"][0]
    return graph["x"], graph["across"]["unit"], first["y"], first["unit"]


def _layers(
    side: Side, graph: GraphShape, colour: str, shape: str, titles: tuple[str, str]
) -> list[JsonValue]:
    x: dict[str, JsonValue] = {"field": "x", "type": "quantitative", "title": titles[0]}
    y: dict[str, JsonValue] = {"field": "y", "type": "quantitative", "title": titles[1]}
    x |= {"scale": {"zero": False}}
    y |= {"scale": {"zero": False}}
    points: list[JsonValue] = [
        {"x": point[1], "y": point[2], "who": side.group}
        for one in graph["series"]
        for point in one["points"]
    ]
    layers: list[JsonValue] = [
        {
            "data": {"values": points},
            "mark": {"type": "point", "filled": True, "color": colour, "shape": shape, "size": 60},
            "encoding": {"x": x, "y": y, "tooltip": [{"field": "who", "title": "group"}]},
        }
    ]
    for fit in side.view["fits"]:
        if fit["id"] in graph["drawn_fits"] and fit["reason"] is None:
            line: list[JsonValue] = [{"x": at[0], "y": at[1]} for at in fit["line"]]
            layers.append(
                {
                    "data": {"values": line},
                    "mark": {"type": "line", "color": colour, "strokeWidth": 1.8},
                    "encoding": {"x": x, "y": y, "order": {"field": "x", "type": "quantitative"}},
                }
            )
    return layers
