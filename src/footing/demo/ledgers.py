"""Studies of the demo with ledgers: of energies and of momenta."""

import numpy as np

from footing.demo.hand import HAND_SCATTER, Hand, begins_at, clip, known_length
from footing.settings import Settings

_FOLLOWED = 0.06  # px, scatter of following


def collision(hand: Hand, settings: Settings) -> None:
    """Both stones followed by the computer, from marks made by hand in the first frame."""
    footage, truth = clip(hand, "curling-stones.mp4", "rink_from_above.mp4", settings)
    first, last, stride = 4, 118, 2
    hand.does("set_span", footage=footage, first=first, last=last, stride=stride)
    known_length(hand, footage, truth["ring"], "1.22")
    start_x, start_y = truth["ring"]["start"]
    hand.does("set_zero", footage=footage, x=start_x, y=start_y)
    rng = np.random.default_rng(15)
    found, made = [], []
    for name, kilograms in truth["masses"].items():
        body = hand.does("add_body", footage=footage, name=name)
        size = f"{200 * truth['radius']:g}"
        hand.does(
            "change_body", body=body, name=name, mass=str(kilograms), size=size, spot="white dot"
        )
        places = np.array(truth["positions"][name])
        x, y = places[first] + rng.normal(scale=HAND_SCATTER / 3, size=2)
        hand.does("place_mark", body=body, frame=first, x=float(x), y=float(y))
        frames = range(first + stride, last + 1, stride)
        followed = places[frames] + rng.normal(scale=_FOLLOWED, size=(len(frames), 2))
        qualities = np.clip(rng.normal(0.97, 0.012, size=len(frames)), 0, 1)
        marks = [
            (frame, float(x), float(y), float(quality))
            for frame, (x, y), quality in zip(frames, followed, qualities, strict=True)
        ]
        found.append({"body": body, "marks": marks})
        made.append(body)
    hand.does("follow_marks", bodies=found)
    hand.does("add_centre", footage=footage, bodies=made)
    impact = truth["impact_time"] * 60
    hand.does("add_passage", footage=footage, name="before", first=first, last=int(impact))
    hand.does("add_passage", footage=footage, name="after", first=int(impact) + 1, last=last)
    hand.does("set_graph", footage=footage, x="t", ys=["x"])
    met = hand.does("add_impact", footage=footage, at=int(impact) + 0.5)
    hand.does("set_energies", footage=footage, from_above=True)
    hand.does("set_momenta", impact=met)
    hand.does(
        "say_verdict",
        impact=met,
        words="Momentum stays in both directions. A sixteenth of the kinetic energy is gone.",
    )


def snow_tube(hand: Hand, settings: Settings) -> None:
    """Pushed, gliding, braking: three passages, and what each takes or gives."""
    footage, truth = clip(hand, "snow-tube.mp4", "tube_wren.mp4", settings)
    begins, rate, stride = truth["begins"], 30, 2
    ends = np.cumsum([leg["seconds"] for leg in truth["legs"]]) + begins
    first, last = round(begins * rate) - 2, 106
    hand.does("set_span", footage=footage, first=first, last=last, stride=stride)
    known_length(hand, footage, truth["pole"], "2.00")
    begins_at(hand, footage, truth["positions"][0], round(begins * rate))
    body = hand.does("add_body", footage=footage, name="tube")
    mass = f"{truth['mass']:g}"
    hand.does("change_body", body=body, name="tube", mass=mass, size="105", spot="white patch")
    hand.marks(body, truth, range(first, last + 1, stride), np.random.default_rng(26))
    starts, legs = [begins, *ends[:2]], []
    names = [leg["name"] for leg in truth["legs"]]
    gliding, straw = truth["legs"][1:]
    slowed = truth["speed_after_push"] + gliding["acceleration"] * gliding["seconds"]
    stops = ends[1] - slowed / straw["acceleration"]
    for name, start, end in zip(names, starts, [*ends[:2], stops], strict=True):
        frames = {"first": round(start * rate) + 1, "last": round(end * rate) - 1}
        legs.append(hand.does("add_passage", footage=footage, name=name, **frames))
    hand.does("set_graph", footage=footage, x="t", ys=["x"])
    fit = hand.does("add_fit", body=body, x="t", y="x", curve="quadratic", passages=[legs[1]])
    hand.does("add_finding", fit=fit, reading="acceleration", name="glide")
    _three_legs(hand, footage, body, legs)
    hand.does("set_velocity_window", footage=footage, marks=5)
    hand.does("set_energies", footage=footage)
    hand.does(
        "say_verdict",
        footage=footage,
        words="The push gives it, snow takes a little of it, and the straw takes the rest.",
    )


def _three_legs(hand: Hand, footage: int, body: int, passages: list[int]) -> None:
    """The tube by three constant accelerations; the marks say where one passes to the next."""
    law = "constant acceleration"
    model = hand.does("add_model", footage=footage, body=body, name="three legs", law=law)
    legs = [hand.first_leg(model)]
    legs += [hand.does("add_leg", model=model, law=law, passage=key) for key in passages[1:]]
    for leg, passage, border in zip(legs, passages, ("marks", "marks", "passages"), strict=True):
        goes_on = "free" if leg == legs[0] else "both"
        hand.does("change_leg", leg=leg, law=law, passage=passage, goes_on=goes_on, border=border)
        # along the pole it only moves to the side
        hand.does("set_parameter", model=model, leg=leg, name="ay", typed="0", unit="m/s^2")
    hand.does("set_parameter", model=model, leg=legs[0], name="vy", typed="0", unit="m/s")
    for number, leg in enumerate(legs, start=1):
        hand.does("add_finding", model=model, reading=f"{leg}.ax", name=f"acceleration {number}")
    hand.does("add_finding", model=model, formula="-ax2/g", name="friction of the snow")


def ice_puck(hand: Hand, settings: Settings) -> None:
    """Up a ramp and back, with axes along it: heights are heights all the same."""
    footage, truth = clip(hand, "ice-puck.mp4", "puck_plover.mp4", settings)
    first, last, stride = round(truth["begins"] * 30) + 1, 102, 3
    hand.does("set_span", footage=footage, first=first, last=last, stride=stride)
    known_length(hand, footage, truth["board"], "1.50")
    begins_at(hand, footage, truth["positions"][0], first)
    slope = f"{truth['slope_degrees']:g}"
    hand.does("turn_axes", footage=footage, angle=slope, flip_x=False, flip_y=False)
    body = hand.does("add_body", footage=footage, name="puck")
    hand.does("change_body", body=body, name="puck", mass="160", mass_unit="g", spot="yellow dot")
    hand.marks(body, truth, range(first, last + 1, stride), np.random.default_rng(27))
    turns = round(truth["turns"] * 30)
    hand.does("set_graph", footage=footage, x="t", ys=["x"])
    for name, begin, end in (("up", first, turns), ("down", turns, last)):
        way = hand.does("add_passage", footage=footage, name=name, first=begin, last=end)
        fit = hand.does("add_fit", body=body, x="t", y="x", curve="quadratic", passages=[way])
        hand.does("add_finding", fit=fit, reading="acceleration", name=name)
    hand.does("set_velocity_window", footage=footage, marks=5)
    hand.does("set_energies", footage=footage)
    hand.does(
        "say_verdict",
        footage=footage,
        words="No: a little goes on the way up, a little on the way down. It goes into the ice.",
    )
