"""The ground as a screen shows it: what is placed, what it means, what follows from it."""

from collections.abc import Sequence
from math import degrees

import numpy as np

from footing.core import findings
from footing.core.arrays import FloatArray
from footing.core.dimensions import own_words
from footing.core.units import LENGTH_UNITS, read_number
from footing.store.rows import Footage, Ground, KnownLength
from footing.studies.model.containing import is_readable
from footing.studies.model.grounds import CORNERS, Grounded
from footing.studies.shapes.ground import GroundShape, KnownLengthShape, PlanePointShape, PlaneShape
from footing.studies.views.clock_view import clock_view

_APART = 2.0  # uncertainties, from which a known length that disagrees is named
_PERSON = 1.70  # m
_LARGEST_PERSON = 20.0  # times the picture, beyond which it is no help


def ground_view(ground: Grounded, footages: Sequence[Footage]) -> GroundShape:
    """Everything at Ground."""
    row = ground.ground
    scale = ground.scale
    return {
        "zero": [row.zero_x, row.zero_y],
        "zero_text": f"({row.zero_x:.1f}, {row.zero_y:.1f}) px",
        "zero_placed": row.zero_placed,
        "angle": row.angle,
        "angle_text": _degrees(row.angle),
        "flip_x": row.flip_x,
        "flip_y": row.flip_y,
        "quarter": row.quarter,
        "mirror": row.mirror,
        "up": row.up,
        "up_text": _up_text(row),
        "levelled": row.levelled,
        "height_zero": None
        if row.height_x is None or row.height_y is None
        else [row.height_x, row.height_y],
        "zero_frame": row.zero_frame,
        "pixel_uncertainty": f"{row.pixel_uncertainty:g}",
        "length_unit": ground.length_unit,
        "study_unit": ground.study_unit,
        "scale": None
        if scale is None
        else {
            "text": _scale_text(ground),
            "relative": f"{100 * scale.relative:.2g} %",
            "disagree": scale.disagree,
        },
        "known_lengths": _known_lengths(ground),
        "plane": _plane_view(ground),
        "arms": _arms(ground),
        "sense": _sense(ground),
        "clock": clock_view(ground),
        "readout": row.readout or "",
        "camera_distance": row.camera_distance or "",
        "others": [
            {"id": other.id, "name": other.name} for other in footages if other.id != row.footage_id
        ],
    }


def _arms(ground: Grounded) -> dict[str, list[float]] | None:
    """In an oblique view, where the axes point to in the picture, as offsets from zero in pixels.

    Their letters are added where the axis is positive by whoever draws them, so without the flips.
    """
    if ground.plane is None:
        return None
    zero = np.array([[ground.ground.zero_x, ground.ground.zero_y]])
    step = 0.01 * float(np.ptp(ground.plane.flat(_corners(ground)), axis=0).max())
    angle = ground.ground.angle
    here = ground.plane.flat(zero)
    ends = {}
    for letter, direction in (("x", angle), ("y", angle + np.pi / 2)):
        there = here + step * np.array([[np.cos(direction), np.sin(direction)]])
        ends[letter] = [float(value) for value in (ground.plane.pixels(there) - zero)[0]]
    return ends


def _corners(ground: Grounded) -> FloatArray:
    return np.array([(one.x, one.y) for one in ground.plane_points[:CORNERS]])


def _degrees(angle: float) -> str:
    return f"{round(degrees(angle), 2):g}".replace("-", "−")


def _up_text(row: Ground) -> str:
    if row.levelled is None:
        return "Up is up in the picture."
    tilt = degrees(row.up) - 90
    way = "to the left" if tilt > 0 else "to the right"
    lean = f"{abs(tilt):.1f}° {way} of up in the picture" if abs(tilt) >= 0.05 else "straight up"
    return f"By a {row.levelled} line, up is {lean}."


def _per_pixel(ground: Grounded) -> float:
    """Length of a pixel in the middle of the picture."""
    return ground.flattening.per_pixel(ground.middle)


def _scale_text(ground: Grounded) -> str:
    length, unit = _per_pixel(ground), ground.length_unit
    if unit == "m":
        return f"1 px is {findings.significant(1000 * length, 3)} mm"
    return f"1 px is {findings.significant(length, 3)} {unit}"


def _sense(ground: Grounded) -> list[str]:
    """Plain sentences that a person can check against what they saw."""
    said = []
    if ground.has_unit:
        length, unit = _per_pixel(ground), ground.length_unit
        if ground.plane is not None:
            said.append(f"In the middle of the picture {_scale_text(ground)}.")
        else:
            said.append(f"{_scale_text(ground)}.")
            wide = findings.significant(length * _seen_width(ground), 3)
            said.append(f"The picture is {wide} {unit} wide.")
        if ground.metres is not None and ground.plane is None:
            tall = _PERSON / (length * ground.metres)
            if tall < _LARGEST_PERSON * ground.index.height:
                said.append(f"A 1.70 m person would be {tall:.0f} px tall.")
    else:
        said.append("Lengths are in pixels, until a known length is typed.")
    if ground.index.frames > 1:
        times, row = ground.times, ground.footage
        whole = findings.significant(float(times[-1] - times[0]), 3)
        said.append(f"The clip lasts {whole} s of true time.")
        if (row.first, row.last) != (0, ground.index.frames - 1):
            span = findings.significant(float(times[row.last] - times[row.first]), 3)
            said.append(f"The span lasts {span} s.")
    return said


def _seen_width(ground: Grounded) -> int:
    sideways = ground.ground.quarter in (90, 270)
    return ground.index.height if sideways else ground.index.width


def _known_lengths(ground: Grounded) -> list[KnownLengthShape]:
    apart = dict(
        zip(
            (row.id for row in ground.typed_lengths),
            ground.scale.apart if ground.scale and ground.scale.disagree else (),
            strict=False,
        )
    )
    return [_known_length_view(row, ground, apart.get(row.id, 0.0)) for row in ground.known_lengths]


def _known_length_view(row: KnownLength, ground: Grounded, apart: float) -> KnownLengthShape:
    pixels = float(np.hypot(row.end_x - row.start_x, row.end_y - row.start_y))
    u = ""
    if row.typed and is_readable(row.typed):
        source = "as typed" if "±" in row.typed or "+" in row.typed else "from its last digit"
        u = f"{read_number(row.typed, field='length').uncertainty:.2g} {row.unit} {source}"
    return {
        "id": row.id,
        "frame": row.frame,
        "start": [row.start_x, row.start_y],
        "end": [row.end_x, row.end_y],
        "pixels": f"{pixels:.1f}",
        "placing": f"{100 * np.sqrt(2) * ground.ground.pixel_uncertainty / pixels:.2g} %",
        "typed": row.typed or "",
        "unit": row.unit or ground.study_unit,
        "own_unit": own_words(row.unit or ""),
        "text": f"{row.typed} {row.unit}" if row.typed else "",
        "uncertainty": u,
        "hidden": row.hidden,
        "nearer": row.nearer or "",
        "apart": _apart_text(apart),
        "in_plane": _in_plane(row, ground),
    }


def _apart_text(apart: float) -> str:
    if abs(apart) <= _APART:
        return ""
    side = "larger" if apart > 0 else "smaller"
    return (
        f"Its scale is {side} than that of the others by {abs(apart):.1f} uncertainties. Check its "
        "ends; if they are right, it is not as far from the camera, or the view is oblique."
    )


def _in_plane(row: KnownLength, ground: Grounded) -> str:
    """A known length as a check of an oblique view: what the plane makes of it."""
    if ground.plane is None or row.typed is None:
        return ""
    ends = ground.plane.flat(np.array([[row.start_x, row.start_y], [row.end_x, row.end_y]]))
    found = findings.significant(float(np.hypot(*(ends[1] - ends[0]))), 3)
    return f"In the oblique view it comes out as {found} {ground.length_unit}."


def _plane_view(ground: Grounded) -> PlaneShape | None:
    row = ground.plane_row
    if row is None:
        return None
    plane = ground.plane
    places = iter(plane.residuals if plane is not None else ())
    points: list[PlanePointShape] = []
    for one in ground.plane_points:
        placed = one.place < CORNERS or (one.across is not None and one.along is not None)
        residual = next(places, None) if placed else None
        points.append(
            {
                "id": one.id,
                "place": one.place,
                "at": [one.x, one.y],
                "across": one.across or "",
                "along": one.along or "",
                "residual": _residual(residual, ground),
            }
        )
    return {
        "frame": row.frame,
        "across": row.across or "",
        "along": row.along or "",
        "unit": row.unit,
        "points": points,
        "problem": ground.plane_problem,
        "uncertainty": _plane_uncertainty(ground) if plane is not None else None,
        "residuals": plane is not None and plane.scatter is not None,
    }


def _plane_uncertainty(ground: Grounded) -> str:
    assert ground.plane is not None
    places = [ground.plane.place_uncertainty((one.x, one.y)) for one in ground.plane_points[:4]]
    corner = _in_centimetres(max(places), ground)
    relative = 100 * ground.plane.relative_uncertainty(ground.middle)
    text = f"Corners placed to ± {ground.ground.pixel_uncertainty:g} px leave places uncertain by "
    text += f"up to {corner}, lengths by {relative:.2g} %."
    if ground.plane.scatter is None:
        return text + " Add a fifth point, or a known length, as a check."
    return text + f" The points scatter by {_in_centimetres(ground.plane.scatter, ground)}."


def _residual(residual: FloatArray | None, ground: Grounded) -> str:
    if residual is None or ground.plane is None or ground.plane.scatter is None:
        return ""
    return _in_centimetres(float(np.hypot(*residual)), ground)


def _in_centimetres(length: float, ground: Grounded) -> str:
    if ground.metres is None:
        return f"{findings.significant(length, 2)} {ground.length_unit}"
    return f"{findings.significant(100 * ground.metres * length, 2)} cm"


def unit_choices(ground: GroundShape | None) -> tuple[str, ...]:
    """Units to choose from for a length; a made-up one that is in use comes along."""
    used = [known["unit"] for known in ground["known_lengths"]] if ground else []
    own = dict.fromkeys(unit for unit in used if unit not in LENGTH_UNITS)
    return (*LENGTH_UNITS, *own)
