"""Files that come in pieces, from the laptop and from a phone."""

import shutil
from datetime import UTC, datetime, timedelta
from pathlib import Path

import cv2
import pytest
from fastapi.testclient import TestClient

from footing.settings import Settings
from footing.store.tables import Footage, Media, PhoneLink, Upload
from footing.studies.films import uploads
from footing.web.app import create_app
from tests.conftest import World
from tests.films import numbered_film, numbered_picture, sound_film
from tests.studies.steps import Tab
from tests.web.conftest import Browserless
from tests.web.sending import Sender


@pytest.fixture
def heron(site: Browserless, world: World) -> Sender:
    return Sender(site, world.heron, f"/api/studies/{world.study.id}")


@pytest.fixture
def tab(world: World) -> Tab:
    return Tab(world.study, world.heron)


def kept_files(settings: Settings) -> list[Path]:
    return [file for file in settings.media_folder.rglob("*") if file.is_file()]


def test_a_file_becomes_a_source(heron: Sender, tab: Tab, plain_film: Path) -> None:
    assert heron.uploads(plain_film.read_bytes(), "Sled 1.mp4").status_code == 204
    footage = tab.view()["footage"]
    assert (footage["name"], footage["frames"]) == ("Sled 1.mp4", 40)


def test_an_upload_goes_on_where_it_stopped(heron: Sender, tab: Tab, plain_film: Path) -> None:
    data = plain_film.read_bytes()
    place = heron.announces("clip.mp4", len(data)).headers["Location"]
    heron.sends(place, data[:1000])
    assert heron.received(place) == 1000
    assert heron.state(place)["state"] == "arriving"
    wrong = heron.sends(place, data[500:], offset=500)
    assert wrong.status_code == 409
    assert "1000 bytes have arrived" in wrong.json()["error"]
    heron.sends(place, data[1000:], offset=1000)
    assert heron.state(place) == {
        "state": "used",
        "reason": None,
        "made": tab.view()["footage"]["id"],
    }


def test_a_file_whose_last_answer_was_lost_is_used_when_asked_again(
    heron: Sender, tab: Tab, plain_film: Path, settings: Settings
) -> None:
    data = plain_film.read_bytes()
    place = heron.announces("clip.mp4", len(data)).headers["Location"]
    heron.sends(place, data[:-1])
    arriving = next(settings.media_folder.glob("arriving/*"))
    with arriving.open("ab") as file:  # the server stopped between the last byte and its use
        file.write(data[-1:])
    assert heron.state(place)["state"] == "arriving"
    assert heron.received(place) == len(data)  # whoever asks brings it to its end
    assert heron.state(place)["state"] == "used"


def test_more_bytes_than_announced_are_refused(heron: Sender, plain_film: Path) -> None:
    data = plain_film.read_bytes()
    place = heron.announces("clip.mp4", 100).headers["Location"]
    answer = heron.sends(place, data)
    assert answer.status_code == 422
    assert "More bytes" in answer.json()["error"]


@pytest.mark.parametrize(
    ("kind", "sentence"),
    [
        ("empty", "The file is empty; copy it from the phone again."),
        ("text", "This is a text file, not a video; choose the video itself."),
        ("sound", "The file holds sound but no picture; choose the video itself."),
        ("picture", "BMP pictures cannot be read; save it as JPEG or PNG."),
    ],
)
def test_a_file_that_cannot_be_used_is_refused_and_nothing_is_kept(
    kind: str, sentence: str, heron: Sender, tmp_path: Path, settings: Settings
) -> None:
    data = {
        "empty": b"",
        "text": "Höhe über Zeit\n".encode() * 50,
        "sound": sound_film(tmp_path / "song.mp4").read_bytes(),
        "picture": cv2.imencode(".bmp", numbered_picture(3))[1].tobytes(),
    }[kind]
    answer = heron.uploads(data)
    assert answer.status_code == 422
    assert answer.json()["error"] == sentence
    assert kept_files(settings) == []
    assert Media.select().count() == Footage.select().count() == 0


def test_a_refusal_is_still_known_after_a_lost_answer(heron: Sender) -> None:
    place = heron.announces("notes.txt", 11).headers["Location"]
    heron.sends(place, b"Just words.")
    assert heron.received(place) == 11
    assert heron.state(place)["state"] == "refused"
    assert "text file" in heron.state(place)["reason"]


def test_a_truncated_file_opens_with_a_note(heron: Sender, tab: Tab, plain_film: Path) -> None:
    data = plain_film.read_bytes()
    heron.uploads(data[: len(data) * 6 // 10])
    footage = tab.view()["footage"]
    assert 0 < footage["frames"] < 40
    assert "cut off" in footage["notes"][0]


def test_a_single_frame_opens_with_a_note(heron: Sender, tab: Tab, films: Path) -> None:
    heron.uploads(numbered_film(films / "one.mp4", frames=1).read_bytes())
    footage = tab.view()["footage"]
    assert "single frame" in footage["notes"][0]
    assert footage["times"] == [0]


def test_a_picture_becomes_a_source(heron: Sender, tab: Tab) -> None:
    heron.uploads(cv2.imencode(".jpg", numbered_picture(3))[1].tobytes(), "arch.jpg")
    footage = tab.view()["footage"]
    assert (footage["kind"], footage["width"], footage["height"]) == ("picture", 320, 180)


def test_the_limit_is_said_before_anything_is_sent(
    site: Browserless, heron: Sender, settings: Settings
) -> None:
    site.client.app.state.settings = settings.model_copy(update={"upload_megabytes": 1})  # type: ignore[attr-defined]
    answer = heron.announces("long.mp4", 2 * 2**20)
    assert answer.status_code == 422
    assert "2 MB; at most 1 MB" in answer.json()["error"]


def test_a_full_disk_is_said_before_anything_is_sent(
    site: Browserless, heron: Sender, settings: Settings, tmp_path: Path
) -> None:
    free = shutil.disk_usage(tmp_path).free // 2**20
    # so much that what others write and remove meanwhile does not matter
    limits = {"disk_reserve_megabytes": free - free // 8, "upload_megabytes": free}
    full = settings.model_copy(update=limits)
    site.client.app.state.settings = full  # type: ignore[attr-defined]
    answer = heron.announces("clip.mp4", free // 4 * 2**20)
    assert answer.status_code == 422
    assert "nearly full" in answer.json()["error"]
    assert kept_files(settings) == []


def test_files_announced_together_leave_each_other_room(
    world: World, plain_film: Path, settings: Settings
) -> None:
    """Each alone would fit above the reserve; all four would not."""
    free = shutil.disk_usage(settings.data.parent).free
    size = free // 8  # so much that what others write meanwhile does not matter
    limits = {
        "disk_reserve_megabytes": (free - 3 * size) // 2**20,
        "upload_megabytes": size // 2**20 + 1,
    }
    tight = settings.model_copy(update=limits)
    with TestClient(create_app(tight)) as client:
        heron = Sender(Browserless(client), world.heron, f"/api/studies/{world.study.id}")
        answers = [heron.announces(f"{n}.mp4", size) for n in range(4)]
    assert [one.status_code for one in answers[:2]] == [201, 201]
    assert answers[3].status_code == 422
    assert "nearly full" in answers[3].json()["error"]


def test_a_disk_that_fills_up_is_said_and_what_has_come_stays(
    heron: Sender, tab: Tab, plain_film: Path, settings: Settings
) -> None:
    data = plain_film.read_bytes()
    place = heron.announces("clip.mp4", len(data)).headers["Location"]
    heron.sends(place, data[:1000])
    arriving = settings.media_folder / "arriving" / place.rpartition("/")[2]
    aside = arriving.rename(settings.data / "aside")
    arriving.symlink_to("/dev/full")  # takes nothing, as a full disk does
    refused = heron.sends(place, data[1000:])
    assert refused.status_code == 422
    assert "disk of this Footing is full" in refused.json()["error"]
    arriving.unlink()
    aside.rename(arriving)
    assert heron.received(place) == 1000
    assert heron.sends(place, data[1000:], offset=1000).status_code == 204
    assert tab.view()["footage"]["frames"] == 40


def test_a_kill_before_the_file_is_written_down_loses_nothing(
    heron: Sender, tab: Tab, plain_film: Path, settings: Settings
) -> None:
    data = plain_film.read_bytes()
    place = heron.announces("clip.mp4", len(data) + 1).headers["Location"]
    heron.sends(place, data)
    key = place.rpartition("/")[2]
    Upload.update(size=len(data)).where(Upload.id == key).execute()  # as if its last byte had come
    file = uploads.arrival(key, len(data), settings)
    file.keep(file.content())  # and here the server was killed
    assert heron.received(place) == len(data)
    assert heron.state(place)["state"] == "used"
    assert tab.view()["footage"]["frames"] == 40


def test_the_same_file_is_kept_once_and_not_brought_in_twice(
    heron: Sender, tab: Tab, plain_film: Path, settings: Settings
) -> None:
    data = plain_film.read_bytes()
    heron.uploads(data, "first.mp4")
    again = heron.uploads(data, "again.mp4")
    assert again.status_code == 422
    assert "in the study already, as “first.mp4”" in again.json()["error"]
    tab.seq = tab.view()["seq"]
    tab.does("remove_footage", footage=tab.view()["footage"]["id"])
    assert heron.uploads(data, "again.mp4").status_code == 204
    assert len(kept_files(settings)) == 1


def test_a_file_can_take_the_place_of_another(
    heron: Sender, tab: Tab, plain_film: Path, films: Path
) -> None:
    heron.uploads(plain_film.read_bytes())
    footage = tab.view()["footage"]["id"]
    better = numbered_film(films / "better.mp4", frames=20)
    assert heron.uploads(better.read_bytes(), "better.mp4", replaces=footage).status_code == 204
    view = tab.view()
    assert (view["footage"]["id"], view["footage"]["frames"]) == (footage, 20)
    assert len(view["sources"]) == 1


def test_an_upload_that_is_given_up_leaves_nothing(heron: Sender, settings: Settings) -> None:
    place = heron.announces("clip.mp4", 5000).headers["Location"]
    heron.sends(place, bytes(1000))
    heron.site.asks(heron.person, "DELETE", place)
    assert kept_files(settings) == []
    assert heron.sends(place, bytes(10), offset=1000).status_code == 409


def test_what_never_went_on_is_forgotten(heron: Sender, settings: Settings) -> None:
    place = heron.announces("clip.mp4", 5000).headers["Location"]
    heron.sends(place, bytes(1000))
    old = datetime.now(UTC) - timedelta(days=3)
    Upload.update(started_at=old).execute()
    heron.announces("new.mp4", 10)
    assert [file.stat().st_size for file in kept_files(settings)] == [0]


@pytest.fixture
def link(site: Browserless, world: World) -> str:
    answer = site.asks(world.heron, "POST", f"/api/studies/{world.study.id}/phone-link")
    return str(answer.json()["address"]).rsplit("/", 1)[1]


def test_a_phone_sends_without_a_sign_in_in_the_name_of_who_made_the_code(
    site: Browserless, world: World, link: str, tab: Tab, plain_film: Path
) -> None:
    assert site.asks(None, "GET", f"/phone/{link}").status_code == 200
    phone = Sender(site, None, f"/api/phone/{link}")
    assert phone.uploads(plain_film.read_bytes(), "VID.mp4").status_code == 204
    assert tab.view()["footage"]["name"] == "VID.mp4"
    history = site.asks(world.teacher, "GET", f"/api/studies/{world.study.id}/history").json()
    assert history[0]["person"] == "Ottilie"
    assert tab.view()["undo"] == "source “VID.mp4”"


def test_a_link_expires(site: Browserless, world: World, link: str) -> None:
    PhoneLink.update(expires=datetime.now(UTC) - timedelta(seconds=1)).execute()
    answer = site.asks(None, "GET", f"/phone/{link}")
    assert answer.status_code == 404
    assert "expired" in answer.text
    assert Sender(site, None, f"/api/phone/{link}").announces("a", 5).status_code == 404


def test_a_link_can_be_closed_while_a_file_is_coming(
    site: Browserless, world: World, link: str, plain_film: Path
) -> None:
    phone = Sender(site, None, f"/api/phone/{link}")
    place = phone.announces("VID.mp4", 5000).headers["Location"]
    site.asks(world.heron, "DELETE", f"/api/studies/{world.study.id}/phone-link")
    assert phone.sends(place, bytes(100)).status_code == 404
    assert site.asks(None, "GET", f"/phone/{link}").status_code == 404


def test_a_removed_study_takes_nothing_from_phones(
    site: Browserless, world: World, link: str
) -> None:
    phone = Sender(site, None, f"/api/phone/{link}")
    assert phone.announces("a.mp4", 9).status_code == 201
    assert site.asks(world.heron, "POST", f"/studies/{world.study.id}/remove").status_code == 303
    assert phone.announces("b.mp4", 9).status_code == 404
    site.asks(world.heron, "POST", f"/studies/{world.study.id}/take-back")
    assert phone.announces("c.mp4", 9).status_code == 404  # a new code is made


def test_a_link_cannot_be_made_up_or_changed(site: Browserless, link: str) -> None:
    number, signature = link.rsplit(".", 1)
    changed = ("y" if signature[0] == "x" else "x") + signature[1:]
    for forged in (f"{number}.{changed}", f"{number}x.{signature}", "1", "MQ.abc"):
        assert site.asks(None, "GET", f"/phone/{forged}").status_code == 404


def test_a_phone_sees_its_own_uploads_only(site: Browserless, heron: Sender, link: str) -> None:
    place = heron.announces("clip.mp4", 5000).headers["Location"]
    key = place.rsplit("/", 1)[1]
    phone = Sender(site, None, f"/api/phone/{link}")
    answer = phone.sends(f"/api/phone/{link}/uploads/{key}", bytes(10))
    assert answer.status_code == 404
