"""What the heading of a card says when the card is folded, and whether there is nothing left to do.

What is done folds; a card that asks for something is open.
"""

from dataclasses import dataclass

from footing.studies.shapes.fits import FitWith, FitWithout
from footing.studies.shapes.ground import GroundShape
from footing.studies.shapes.state import LedgerShape, SharedShape


@dataclass(frozen=True)
class CardState:
    """What stands beside the heading, and whether the card is done."""

    text: str
    done: bool


def task(view: SharedShape) -> CardState:
    """What the lab asks for, and how much of it is there; open until all is."""
    lab = view["lab"]
    assert lab is not None
    wanted = [*lab["checks"].values(), *(bool(one["found"]) for one in lab["asked"])]
    wanted += [bool(one["words"]) for one in lab["questions"]]
    text = lab["title"] if not wanted else f"{sum(wanted)} of {len(wanted)} done"
    # what is only told, and asks for nothing, is read once
    return CardState(text, done=all(wanted) and bool(view["sources"]))


def footage(view: SharedShape) -> CardState:
    """Which file it is; open while there is something to be said of it."""
    film = view["footage"]
    assert film is not None
    return CardState(film["name"], done=not film["notes"])


def span(view: SharedShape) -> CardState:
    """Which frames count; open until somebody has chosen them."""
    film = view["footage"]
    assert film is not None
    first, last, stride = film["first"], film["last"], film["stride"]
    text = f"frames {first} … {last}" + (f", every {stride}" if stride > 1 else "")
    return CardState(text, done=(first, last) != (0, film["frames"] - 1) or stride > 1)


def sheet_in(view: SharedShape) -> CardState:
    """How a table comes in; open while nothing else is there."""
    return CardState("type or paste one", done=bool(view["sources"]))


def guide(view: SharedShape) -> CardState:
    """Open until something was filmed."""
    return CardState("before you film", done=bool(view["sources"]))


def graph(view: SharedShape) -> CardState:
    """What the graphs show; open where there is none, or one that cannot be honest."""
    graphs = view["graphs"]
    titles = ", ".join(one["title"] for one in graphs)
    return CardState(
        titles or "none", done=bool(graphs) and not any(one["mixed_units"] for one in graphs)
    )


def fits(view: SharedShape) -> CardState:
    """Which curves there are; open until each has come to something that is recorded."""
    recorded = {finding["fit"] for finding in view["findings"] if not finding["reason"]}
    done = all(fit["id"] in recorded and fit["reason"] is None for fit in view["fits"])
    said = "; ".join(_what_it_gives(fit) for fit in view["fits"])
    return CardState(said or "none", done=bool(view["fits"]) and done)


def _what_it_gives(fit: FitWith | FitWithout) -> str:
    """What was fitted, and the first number that it gives."""
    if fit["reason"] is not None:
        return f"{fit['label_text'] or fit['series']}: nothing yet"
    first = (fit["readings"] or fit["parameters"])[0]
    named = f"{fit['label_text']}: " if fit["label_text"] else ""
    return f"{named}{first['label'] or first['key']} {first['text']}"


def findings(view: SharedShape) -> CardState:
    """What was found."""
    said = "; ".join(
        f"{one['name']} {one['text']}" if one["reason"] is None else f"{one['name']}: nothing yet"
        for one in view["findings"]
    )
    return CardState(said or "none", done=False)


def passages(view: SharedShape) -> CardState:
    """How the passages are called; open where rows of a sheet are named in it."""
    names = ", ".join(passage["name"] for passage in view["passages"])
    return CardState(names or "none", done=bool(names) and not view["sheet"])


def columns(view: SharedShape) -> CardState:
    """Which columns were made; open where they are the work itself."""
    symbols = ", ".join(column["symbol"] for column in view["columns"])
    return CardState(symbols or "none", done=not view["sheet"])


def quantities(view: SharedShape) -> CardState:
    """What the study knows besides."""
    known = ", ".join(one["symbol"] for one in view["study_quantities"])
    return CardState(known or "none", done=True)


def impacts(view: SharedShape) -> CardState:
    """Where something hits; open while somebody has to say whether it does."""
    said = ", ".join(one["said"] for one in view["impacts"])
    ledger = view["ledger"]
    asked = bool(ledger and ledger["offers"])
    return CardState(said or "none", done=not asked)


def accounted(view: SharedShape) -> CardState:
    """What counts; open while a mass is missing or doubtful."""
    energy = _ledger(view)["energy"]
    counting = [body for body in energy["bodies"] if body["counts"]]
    names = ", ".join(body["name"] for body in counting)
    asks = any(body["needs"] or body["asks"] for body in counting)
    return CardState(names or "nothing", done=bool(counting) and not asks)


def momenta(view: SharedShape) -> CardState:
    """Of which frames the momenta are."""
    momenta = _ledger(view)["momenta"]
    said = "; ".join(one["title"] for one in momenta)
    return CardState(said, done=not any(one["problem"] for one in momenta))


def spring(view: SharedShape) -> CardState:
    """Whether there is a spring, and what turns."""
    energy = _ledger(view)["energy"]
    constant = energy["spring"]["constant"]
    parts = [f"spring {constant} {energy['spring']['unit']}"] if constant else []
    parts += [f"{one['name']} turns" for one in energy["bodies"] if one["turns"]]
    return CardState(", ".join(parts) or "none", done=True)


def compared(view: SharedShape) -> CardState:
    """Which moments are compared."""
    moments = _ledger(view)["energy"]["moments"]
    return CardState(", ".join(f"{one['name']} {one['text']}" for one in moments), done=True)


def verdict(view: SharedShape) -> CardState:
    """What somebody said; open until then where the lab leaves it to the students."""
    ledger = _ledger(view)
    words = [ledger["energy"]["words"], *(one["words"] for one in ledger["momenta"])]
    said = next((one for one in words if one), "")
    return CardState(said or "nothing yet", done=bool(said) or ledger["tells"])


def air(view: SharedShape) -> CardState:
    """The density of the air; it is as usual, or as the weather says."""
    models = view["models"]
    assert models is not None  # this card is there only where they are shown
    how = "by the weather" if models["by_weather"] else "as usual"
    return CardState(f"{models['density']}, {how}", done=True)


def _ledger(view: SharedShape) -> LedgerShape:
    ledger = view["ledger"]
    assert ledger is not None  # these cards are there only where it is shown
    return ledger


def lengths(view: SharedShape) -> CardState:
    """The scale, or that there is none."""
    ground = _ground(view)
    if ground["scale"]:
        return CardState(ground["scale"]["text"], not ground["scale"]["disagree"])
    plane = ground["plane"]
    if plane and not plane["problem"]:
        return CardState("from the oblique view", done=True)
    return CardState("all in pixels", done=False)


def axes(view: SharedShape) -> CardState:
    """Where zero is, and how the axes lie."""
    ground = _ground(view)
    turned = [f"turned {ground['angle_text']}°"] if ground["angle"] else []
    flipped = ["x to the left"] if ground["flip_x"] else []
    flipped += ["y down"] if ground["flip_y"] else []
    place = f"zero at {ground['zero_text']}" if ground["zero_placed"] else "zero in the middle"
    return CardState(", ".join([place, *turned, *flipped]), ground["zero_placed"])


def clock(view: SharedShape) -> CardState:
    """Where times come from, and which frame is t = 0."""
    ground = _ground(view)
    said = ground["clock"]
    of = {
        "file": "as in the file",
        "capture": f"shot at {said['typed']} frames/s",
        "moments": "from two moments",
    }[said["kind"]]
    begins = ground["zero_frame"]
    doubtful = said["kind"] == "file" and bool(said["likely"])
    chosen = said["kind"] != "file" or bool(begins)
    return CardState(f"{of}, t = 0 at frame {begins or 0:g}", chosen and not doubtful)


def up(view: SharedShape) -> CardState:
    """Which way is up, and where heights begin."""
    ground = _ground(view)
    way = f"by a {ground['levelled']} line" if ground["levelled"] else "as in the picture"
    return CardState(
        f"{way}, height 0 on its own" if ground["height_zero"] else way,
        done=True,  # as the picture is, until somebody says otherwise
    )


def plane(view: SharedShape) -> CardState:
    """Whether the view is oblique."""
    of = _ground(view)["plane"]
    if of is None:
        return CardState("square-on", done=True)
    return CardState("needs care" if of["problem"] else "laid flat", done=not of["problem"])


def steady(view: SharedShape) -> CardState:
    """Which spots of the background are marked."""
    spots = [body for body in view["bodies"] if body["background"]]
    if not spots:
        return CardState("stands still", done=True)
    names = ", ".join(spot["name"] for spot in spots)
    return CardState(f"by {names}", done=all(len(spot["marks"]) > 1 for spot in spots))


def fine(view: SharedShape) -> CardState:
    """To how many pixels a point can be placed."""
    return CardState(f"points to ± {_ground(view)['pixel_uncertainty']} px", done=True)


def _ground(view: SharedShape) -> GroundShape:
    ground = view["ground"]
    assert ground is not None  # these cards are there only beside footage
    return ground
