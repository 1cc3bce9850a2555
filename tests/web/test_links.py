"""Looking at a study by a link: everything is seen, nothing changed, and closed is closed."""

from urllib.parse import urlparse

import pytest

from footing.store import tables
from footing.studies.school import looking, people, register
from footing.studies.school.people import Person
from tests.conftest import World
from tests.studies.steps import Tab, all_rows
from tests.web.conftest import Browserless
from tests.web.test_routes import (
    ANYBODY,
    ENDLESS,
    filled,
    headers,
    is_refused,
    of_somebody,
)


@pytest.fixture
def guest(filmed: Tab, world: World) -> Person:
    """Whoever has a link of the group's study."""
    link = looking.make_link(filmed.study_id, world.heron)
    person, study = looking.looker(looking.token_of(link))
    assert study == filmed.study_id
    return person


def test_a_link_leads_to_the_study_without_a_sign_in(
    site: Browserless, filmed: Tab, world: World
) -> None:
    place = f"/api/studies/{filmed.study_id}/look-link"
    address = site.asks(world.heron, "POST", place).json()["address"]
    assert site.asks(world.heron, "POST", place).json()["address"] == address
    path = urlparse(address).path
    answer = site.asks(None, "GET", path)
    assert answer.headers["location"] == f"/studies/{filmed.study_id}"
    seen = site.client.get(f"/api/studies/{filmed.study_id}")
    assert seen.status_code == 200
    assert seen.json()["footage"]["name"] == "plain.mp4"
    assert not seen.json()["rules"]["may_change"]
    assert site.client.get(path, follow_redirects=True).status_code == 200
    site.asks(world.heron, "DELETE", place)
    assert is_refused(site.asks(None, "GET", f"/api/studies/{filmed.study_id}"))
    closed = site.asks(None, "GET", path)
    assert closed.status_code == 404
    assert "closed" in closed.text
    again = site.asks(world.heron, "POST", place).json()["address"]
    assert again != address


def test_a_made_up_link_leads_nowhere(site: Browserless, filmed: Tab, guest: Person) -> None:
    link = looking.open_link(filmed.study_id)
    assert link is not None
    token = looking.token_of(link)
    # Not the last letter: some of its bits stand for nothing, so two of them mean the same.
    middle = len(token) // 2
    other = "A" if token[middle] != "A" else "B"
    for wrong in ("1", "x", token[:-2], token[:middle] + other + token[middle + 1 :]):
        assert site.asks(None, "GET", f"/look/{wrong}").status_code == 404


def test_who_is_signed_in_stays_so(
    site: Browserless, filmed: Tab, world: World, guest: Person
) -> None:
    link = looking.open_link(filmed.study_id)
    assert link is not None
    path = f"/look/{looking.token_of(link)}"
    assert site.asks(world.teacher, "GET", path).status_code == 303
    assert site.client.get(f"/api/studies/{filmed.study_id}").json()["rules"]["may_change"]
    other = site.asks(world.stranger, "GET", path)
    assert other.status_code == 404
    assert "private window" in other.text


def test_by_a_link_nothing_is_changed_and_nothing_else_is_seen(
    site: Browserless, filmed: Tab, world: World, guest: Person
) -> None:
    paths = of_somebody(site)
    places = [(method, path, filled(path, filmed, world)) for method, path in paths]
    before = all_rows(filmed.study_id)
    counts = {table: table.select().count() for table in tables.ALL if table is not tables.SignIn}
    seen = 0
    for method, path, place in places:
        if path in ANYBODY or ENDLESS.search(path):
            continue
        answer = site.asks(guest, method, place, headers=headers(method))
        assert answer.status_code < 500, (method, path)
        if "{study_id}" not in path and path != "/api/weather-station":
            refused = is_refused(answer) or answer.status_code == 422
            assert refused, (method, path, answer.status_code)
        elif method == "GET" and answer.status_code == 200:
            seen += 1
        elif method not in ("GET", "HEAD"):
            may = "/trial" in path or path.endswith("/here")
            assert may or answer.status_code in (404, 422), (method, path, answer.status_code)
    assert seen > 8
    assert all_rows(filmed.study_id) == before
    now = {table: table.select().count() for table in counts}
    assert now == counts


def test_a_guest_is_shown_no_link_of_a_phone_and_no_hand_ins(
    site: Browserless, filmed: Tab, world: World, guest: Person
) -> None:
    group = world.study.group
    gone = tables.Student.create(school_class=world.school_class, group=group, name="Juniper")
    tables.PhoneLink.create(study=filmed.study_id, student=gone, expires="2099-01-01T00:00:00Z")
    tables.Upload.create(
        id="a", study=filmed.study_id, student=gone, name="a.mp4", size=5, state="refused"
    )
    register.remove(register.pupil(world.school_class.id, gone.id), with_work=False)
    assert tables.PhoneLink.get().student_id is None  # a link of nobody
    page = site.asks(guest, "GET", f"/studies/{filmed.study_id}/sources").text
    assert "/phone/" not in page
    report = site.asks(guest, "GET", f"/studies/{filmed.study_id}/report").text
    assert "card-hand-in" not in report
    assert "A link to look at it" not in report
    own = site.asks(world.heron, "GET", f"/studies/{filmed.study_id}/report").text
    assert "A link to look at it" in own


def test_a_session_of_a_link_ends_with_it(
    site: Browserless, filmed: Tab, world: World, guest: Person
) -> None:
    assert site.asks(guest, "GET", f"/api/studies/{filmed.study_id}").status_code == 200
    looking.close_links(filmed.study_id)
    assert is_refused(site.asks(guest, "GET", f"/api/studies/{filmed.study_id}"))
    with pytest.raises(people.NotThere):
        people.visible_study(guest, filmed.study_id)
    frame = f"/api/studies/{filmed.study_id}/footage/{filmed.view()['footage']['content']}"
    assert is_refused(site.asks(guest, "GET", f"{frame}/frames/0/thumb.jpg"))
