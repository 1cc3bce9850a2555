"""What a person's hands do in the workbench: mouse and keys, nothing else."""

import json
import re
from collections.abc import Iterable
from pathlib import Path
from typing import Any

from playwright.sync_api import Locator, Page, expect

_NEAR = 4  # frames that one steps by keys
_MARKING_PAUSE = 330  # ms; a person's own rhythm, slower than a double click


class Hands:
    """A person at a browser window."""

    def __init__(self, page: Page, address: str) -> None:
        self.page = page
        self.address = address

    def opens(self, path: str) -> None:
        self.page.goto(self.address + path)
        if "/studies/" in path:
            expect(self.page.locator("#bench")).to_have_attribute("data-ready", "true")

    def goes_to(self, step: str) -> None:
        self.page.locator(f'.rail a[data-step="{step}"]').click()
        for part in ("#bench", "#cards"):
            expect(self.page.locator(part)).to_have_attribute("data-step", step)

    def uploads(self, film: Path) -> None:
        self.page.locator("#file").set_input_files(film)
        expect(self.page.locator("#drop")).to_be_hidden()
        self.sees_frame(0)

    def sees_frame(self, frame: int) -> None:
        expect(self.page.locator("#stage")).to_have_attribute("data-shown", str(frame))

    def is_saved(self) -> None:
        expect(self.page.locator("#saved")).to_have_text("saved ✓")

    def point(self, pixel: Iterable[float]) -> tuple[float, float]:
        """Where in the window a pixel of the picture is."""
        return self.pixel_points([pixel])[0]

    def pixel_points(self, pixels: Iterable[Iterable[float]]) -> list[tuple[float, float]]:
        """Where in the window pixels of the picture are, as the stage says it is shown."""
        stage = self.page.locator("#stage")
        box = stage.bounding_box()
        assert box is not None
        a, b, c, d, e, f = map(float, (stage.get_attribute("data-matrix") or "").split(","))
        return [(box["x"] + a * x + c * y + e, box["y"] + b * x + d * y + f) for x, y in pixels]

    def pixel(self, point: tuple[float, float]) -> tuple[float, float]:
        """Which pixel of the picture is at a point of the window."""
        x0, y0 = self.point((0, 0))
        x1, y1 = self.point((1, 1))
        return (point[0] - x0) / (x1 - x0), (point[1] - y0) / (y1 - y0)

    def clicks(self, pixel: Iterable[float]) -> None:
        self.page.mouse.click(*self.point(pixel))

    def drags(self, start: tuple[float, float], end: tuple[float, float]) -> None:
        """Drag between two points of the window."""
        self.page.mouse.move(*start)
        self.page.mouse.down()
        self.page.mouse.move((start[0] + end[0]) / 2, (start[1] + end[1]) / 2)
        self.page.mouse.move(*end)
        self.page.mouse.up()

    def middle(self, thing: Locator) -> list[float]:
        """The middle of something on the page, as a point of the window."""
        box = thing.bounding_box()
        assert box is not None
        return [box["x"] + box["width"] / 2, box["y"] + box["height"] / 2]

    def drags_pixels(self, start: Iterable[float], end: Iterable[float]) -> None:
        self.drags(self.point(start), self.point(end))

    def draws_known_length(
        self, start: Iterable[float], end: Iterable[float], length: str, unit: str = "m"
    ) -> None:
        self.page.locator('[data-tool="length"]').click()
        self.drags_pixels(start, end)
        form = self.page.locator("#length-form")
        form.locator("[name=length]").fill(length)
        form.locator("[name=unit]").fill(unit)
        form.locator("button").click()
        expect(form).to_be_hidden()

    def places_zero(self, pixel: Iterable[float]) -> None:
        self.page.locator('[data-tool="zero"]').click()
        self.clicks(pixel)
        self.is_saved()

    def sets_span(self, first: int, last: int, stride: int = 1) -> None:
        form = self.card("span").locator("form")
        for name, value in (("first", first), ("last", last), ("stride", stride)):
            field = form.locator(f"[name={name}]")
            if field.input_value() != str(value):
                field.fill(str(value))
                field.press("Tab")
                self.is_saved()

    def adds_body(self, name: str) -> None:
        form = self.page.locator('form[data-kind="add_body"]')
        form.locator("[name=name]").fill(name)
        form.locator("button").click()
        expect(self.page.locator("#cards .body-pick", has_text=name)).to_be_visible()

    def looks_at_table(self) -> Locator:
        """Open the table of the body whose turn it is, and scroll to it; its rows."""
        card = self.page.locator("#table-card")
        if not card.locator("details.fold").evaluate("fold => fold.open"):
            card.get_by_role("heading", name="Table").click()
        self.page.locator("#table").scroll_into_view_if_needed()
        rows = self.page.locator("#table tbody tr")
        expect(rows.first).to_be_visible()
        return rows

    def counts_marks(self, number: int) -> None:
        """The body whose turn it is has so many marks that count."""
        text = f"{number} mark" if number == 1 else f"{number} marks"
        turn = self.page.locator('#cards .body-pick[aria-pressed="true"]')
        expect(turn.get_by_text(text, exact=True)).to_be_visible()

    def marks(self, frames: Iterable[int], positions: list[list[float]]) -> None:
        """Go to the first frame, then click in frame after frame as the bench moves on."""
        numbers = list(frames)
        self.steps_to(numbers[0])
        for frame in numbers:
            self.sees_frame(frame)
            self.clicks(positions[frame])
            self.page.wait_for_timeout(_MARKING_PAUSE)
        self.is_saved()

    def steps_to(self, frame: int) -> None:
        """Go to a frame: by keys where it is near, else by its number."""
        if abs(frame - self.frame()) > _NEAR:
            field = self.page.locator("#go-to")
            field.fill(str(frame))
            field.press("Enter")
            field.blur()
        self.page.locator("#stage").hover(position={"x": 4, "y": 4})
        for _ in range(_NEAR):
            now = self.frame()
            if now == frame:
                break
            self.page.keyboard.press("Shift+F" if now < frame else "Shift+D")
            expect(self.page.locator("#moment")).not_to_contain_text(f"frame {now} ")
        self.sees_frame(frame)

    def frame(self) -> int:
        """The frame that the score names."""
        text = self.page.locator("#moment").inner_text()
        found = re.match(r"frame (\d+)", text)
        assert found is not None
        return int(found[1])

    def time_point(self, frame: int, row: str) -> tuple[float, float]:
        """Point of a row of the score (strip, lane, passages) above a frame; by its own handles."""
        box = self.page.locator("#time").bounding_box()
        assert box is not None
        start, end = (
            float(self.page.locator("#time").get_attribute(f"data-{name}") or "nan")
            for name in ("from", "to")
        )
        moment = self.state()["footage"]["times"][frame]
        left, right = 116.0, box["width"] - 14  # where the score's axis begins and ends
        x = left + (moment - start) / (end - start) * (right - left)
        y = {"strip": 22.0, "lane": 60.0, "passages": box["height"] - 33}[row]
        return box["x"] + x, box["y"] + y

    def names_passage(self, first: int, last: int, name: str) -> None:
        self.drags(self.time_point(first, "passages"), self.time_point(last, "passages"))
        form = self.page.locator("#passage-form")
        form.locator("input").fill(name)
        form.locator("button").first.click()
        expect(form).to_be_hidden()

    def fits(self, curve: str, passage: str | None = None) -> None:
        form = self.page.locator('#fit-choices form[data-kind="add_fit"]')
        form.locator("[name=curve]").select_option(curve)
        if passage:
            form.locator("[name=passages]").select_option(label=passage)
        form.locator("button").click()
        expect(self.page.locator(".fit")).to_be_visible()

    def state(self) -> dict[str, Any]:
        """The study as the API gives it to this person."""
        study = self.page.locator("#bench").get_attribute("data-study")
        answer = self.page.request.get(f"{self.address}/api/studies/{study}")
        assert answer.ok
        view: dict[str, Any] = answer.json()
        return view

    def card(self, name: str) -> Locator:
        """A card, opened where it was folded."""
        card = self.page.locator(f"#card-{name}")
        # it may be about to open by itself, so that a click could close it
        card.locator("details.fold").evaluate_all("folds => folds.forEach(f => (f.open = true))")
        return card


def number_of(text: str) -> float:
    """The first number in a text such as ``−9.79 ± 0.05 m/s²``."""
    found = re.search(r"[−-]?\d+(\.\d+)?", text)
    assert found is not None
    return float(found[0].replace("−", "-"))


def truth_of(clips: Path, name: str) -> dict[str, Any]:
    """What is known of a clip of the demo."""
    found: dict[str, Any] = json.loads((clips / f"{name}.json").read_text())
    return found
