"""Studies of the demo that measure: marks, graphs, fits and findings, done or half done."""

import json

import numpy as np

from footing.demo.hand import CLIPS, Hand, clip, known_length
from footing.settings import Settings


def finished_lob(hand: Hand, settings: Settings) -> None:
    """A thrown snowball from the film to g and its energies, with nothing left to do."""
    footage, truth = clip(hand, "snowball-lob.mp4", "VID_lob_heron.mp4", settings)
    flying = [frame for frame, flies in enumerate(truth["flying"]) if flies]
    first, last = flying[0], flying[-1]
    hand.does("set_span", footage=footage, first=first, last=last, stride=2)
    known_length(hand, footage, truth["post"], "1.50")
    foot_x, foot_y = truth["post"]["start"]
    hand.does("set_zero", footage=footage, x=foot_x, y=foot_y)
    hand.does("set_zero_frame", footage=footage, frame=first)
    body = hand.does("add_body", footage=footage, name="snowball")
    hand.does("change_body", body=body, name="snowball", mass="120", mass_unit="g")
    hand.marks(body, truth, range(first, last + 1, 2), np.random.default_rng(11))
    flight = hand.does(
        "add_passage", footage=footage, name="flight", first=first + 2, last=last - 2
    )
    hand.does("set_graph", footage=footage, x="t", ys=["y"])
    fit = hand.does("add_fit", body=body, x="t", y="y", curve="quadratic", passages=[flight])
    hand.does(
        "add_finding", fit=fit, reading="acceleration", name="g", as_size=True, accepted="9.81"
    )
    hand_x = truth["positions"][first][0]
    hand.does("set_height_zero", footage=footage, x=hand_x, y=foot_y)
    hand.does("set_energies", footage=footage)
    hand.does(
        "say_verdict",
        footage=footage,
        words="The total stays the same from hand to snow: the air takes less than we can see.",
    )


def half_done_sled(hand: Hand, settings: Settings) -> None:
    """A sled that slides, marked as far as somebody got."""
    footage, truth = clip(hand, "sled-run.mp4", "sled_wren_2.mp4", settings)
    released = round(truth["release_time"] * 30)
    hand.does("set_span", footage=footage, first=released, last=85, stride=3)
    known_length(hand, footage, truth["pole"], "2.00")
    x, y = truth["positions"][released]
    hand.does("set_zero", footage=footage, x=x, y=y)
    hand.does("turn_axes", footage=footage, angle="-12", flip_x=False, flip_y=False)
    body = hand.does("add_body", footage=footage, name="sled")
    hand.marks(body, truth, range(released, released + 36, 3), np.random.default_rng(12))


def slow_motion(hand: Hand, settings: Settings) -> None:
    """Two falls in slow motion, marked and drawn."""
    footage, truth = clip(hand, "lantern-and-cone.mp4", "slowmo_siskin.mp4", settings)
    hand.does("set_clock", footage=footage, clock="capture", typed="120")
    known_length(hand, footage, truth["ladder"], "3.00")
    released = round(truth["release_time"] * truth["capture_rate"])
    hand.does("set_span", footage=footage, first=released, last=116, stride=6)
    hand.does("set_zero_frame", footage=footage, frame=released)
    x, y = truth["positions"]["lantern"][released]
    hand.does("set_zero", footage=footage, x=x, y=y)
    hand.does("turn_axes", footage=footage, angle="0", flip_x=False, flip_y=True)
    rng = np.random.default_rng(13)
    for name in ("lantern", "cone"):
        body = hand.does("add_body", footage=footage, name=name)
        spots = {"positions": truth["positions"][name]}
        hand.marks(body, spots, range(released, 101, 6), rng)
    hand.does("set_graph", footage=footage, x="t", ys=["y"])


def arch(hand: Hand, settings: Settings) -> None:
    """A picture, with a parabola along an arch."""
    footage, truth = clip(hand, "footbridge.jpg", "footbridge_plover.jpg", settings)
    known_length(hand, footage, truth["railing"], "3.00")
    x, y = truth["crown"]
    hand.does("set_zero", footage=footage, x=x, y=y)
    body = hand.does("add_body", footage=footage, name="arch")
    spots = {"positions": truth["arch"]}
    hand.marks(body, spots, range(len(truth["arch"])), np.random.default_rng(14))
    hand.does("add_fit", body=body, x="x", y="y", curve="quadratic")


def kick_sled(hand: Hand) -> None:
    """A typed table, its bent graph made straight, and the friction from the slope."""
    truth = json.loads((CLIPS / "kick-sled.json").read_text())
    rows = (CLIPS / "kick-sled.csv").read_text().splitlines()
    sheet = hand.does("add_sheet", name="glides")
    v = hand.does("add_column", sheet=sheet, name="speed", symbol="v", unit="m/s")
    d = hand.does("add_column", sheet=sheet, name="stopping distance", symbol="d", unit="m")
    cells = [row.split(",") for row in rows[1:]]
    hand.does("set_cells", sheet=sheet, row=1, column=v, cells=cells)
    short = truth["stopped_short"]
    hand.does("set_row_aside", sheet=sheet, row=short, aside=True, reason="ran into the straw")
    hand.does("set_quantity", symbol="g", name="free fall", typed="9.81 ± 0.01", unit="m/s^2")
    hand.does("set_graph", sheet=sheet, x=f"c{v}", ys=[f"c{d}"])
    hand.does("straighten", sheet=sheet, x=f"c{v}", y=f"c{d}", form="y-x2")
    fit = hand.fit_of(sheet)
    hand.does("add_finding", fit=fit, formula="1/(2*m*g)", name="friction", symbol="μ")


def just_uploaded(hand: Hand, settings: Settings) -> None:
    """A film and nothing else."""
    clip(hand, "snowball-lob.mp4", "20270114_dipper.mp4", settings)
