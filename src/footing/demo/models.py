"""Studies of the demo that predict motions by laws and compare them with the marks."""

import numpy as np

from footing.demo.hand import Hand, clip, known_length
from footing.settings import Settings


def two_falls(hand: Hand, settings: Settings) -> None:
    """Lantern and cone by theory, with the air and without it; the lantern says its coefficient."""
    footage, truth = clip(hand, "lantern-and-cone.mp4", "slowmo_heron.mp4", settings)
    hand.does("set_clock", footage=footage, clock="capture", typed="120")
    known_length(hand, footage, truth["ladder"], "3.00")
    released = round(truth["release_time"] * truth["capture_rate"])
    last = 112
    hand.does("set_span", footage=footage, first=released, last=last, stride=2)
    hand.does("set_zero_frame", footage=footage, frame=released)
    x, y = truth["positions"]["lantern"][released]
    hand.does("set_zero", footage=footage, x=x, y=y)
    hand.does("set_weather", temperature="20.0", pressure="1013", damp="50")
    rng = np.random.default_rng(28)
    bodies = {}
    for name in ("lantern", "cone"):
        body = hand.does("add_body", footage=footage, name=name)
        grams, width = 1000 * truth["masses"][name], 200 * truth["radii"][name]
        hand.does(
            "change_body",
            body=body,
            name=name,
            mass=f"{grams:.1f} ± 0.2",
            mass_unit="g",
            size=f"{width:.1f} ± 0.1",
            size_unit="cm",
            spot="the middle",
        )
        spots = {"positions": truth["positions"][name]}
        hand.marks(body, spots, range(released, min(last, len(spots["positions"]) - 1), 2), rng)
        bodies[name] = body
    hand.does("set_graph", footage=footage, x="t", ys=["y"])
    for name, body in bodies.items():
        hand.does("add_theory", body=body)
        for model, kind in hand.models_of(body):
            hand.does("change_model", model=model, name=f"{name} {kind}")
            leg = hand.first_leg(model)
            for axis in ("vx", "vy"):  # both are let go at rest
                hand.does("set_parameter", model=model, leg=leg, name=axis, typed="0", unit="m/s")
            if kind == "with air":
                for axis in ("x", "y"):
                    hand.does("set_parameter", model=model, leg=leg, name=axis, how="marks")
            if kind == "with air":
                hand.does("set_parameter", model=model, name="drag_coefficient", how="marks")
                at_rest = f"drag coefficient of the {name}"
                accepted = f"{truth['drag_coefficients'][name]:g}"
                hand.does(
                    "add_finding",
                    model=model,
                    reading="drag_coefficient",
                    name=at_rest,
                    accepted=accepted,
                )
                speed = f"terminal speed of the {name}"
                hand.does("add_finding", model=model, reading=f"{leg}.terminal_speed", name=speed)


def bounce(hand: Hand, settings: Settings) -> None:
    """Free fall, an impact, free fall again: g, restitution and moment of the impact in one."""
    footage, truth = clip(hand, "snowball-bounce.mp4", "bounce_siskin.mp4", settings)
    rate, stride = 60, 2
    released = round(truth["release_time"] * rate)
    last = len(truth["positions"]) - 2
    hand.does("set_span", footage=footage, first=released, last=last, stride=stride)
    known_length(hand, footage, truth["board"], "1.00")
    hand.does("set_zero", footage=footage, x=truth["positions"][0][0], y=truth["ice"][1])
    hand.does("set_zero_frame", footage=footage, frame=released)
    body = hand.does("add_body", footage=footage, name="snowball")
    hand.marks(body, truth, range(released, last + 1, stride), np.random.default_rng(29))
    hits = truth["impact_time"] * rate
    gap = int(hits) + 0.5
    hand.does("add_impact", footage=footage, at=gap)
    down = hand.does("add_passage", footage=footage, name="toss", first=released, last=gap)
    back = hand.does("add_passage", footage=footage, name="bounce", first=gap, last=last)
    hand.does("set_graph", footage=footage, x="t", ys=["y"])
    law = "free fall"
    model = hand.does("add_model", footage=footage, body=body, name="fall and bounce", law=law)
    first = hand.first_leg(model)
    second = hand.does("add_leg", model=model, law=law, passage=back)
    way = {"law": law, "passage": down, "goes_on": "free", "border": "marks"}
    hand.does("change_leg", leg=first, **way)
    hand.does("change_leg", leg=second, law=law, passage=back, hits=True)
    hand.does("set_parameter", model=model, name="g", how="marks")
    hand.does("set_parameter", model=model, leg=second, name="contact_friction", how="marks")
    hand.does("add_finding", model=model, reading="g", name="g", accepted="9.81")
    name = "restitution of the ice"
    hand.does("add_finding", model=model, reading=f"{second}.restitution", name=name)
