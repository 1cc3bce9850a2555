"""What is done in a process of its own, forked from another."""

import os
from pathlib import Path

import pytest

from footing.core.errors import Refused
from footing.forking import result_of


def refuses(field: str) -> None:
    raise Refused("Not so.", field=field)


def ends_at_once(code: int) -> None:
    os._exit(code)


def its_name() -> str:
    return Path("/proc/self/comm").read_text().strip()


def is_group_of_its_own() -> bool:
    return os.getpgid(0) == os.getpid()


def test_what_is_done_in_another_process_comes_back() -> None:
    assert result_of("a sum", divmod, 17, 5) == (3, 2)


def test_what_it_refuses_is_refused_here() -> None:
    with pytest.raises(Refused, match="Not so") as refused:
        result_of("a refusal", refuses, "height")
    assert refused.value.field == "height"


def test_a_process_that_dies_is_an_error_and_nobody_waits_for_it() -> None:
    with pytest.raises(Refused, match="a ruin ready"):
        result_of("a ruin", ends_at_once, 3)


def test_it_is_seen_under_its_name_and_ctrl_c_is_not_for_it() -> None:
    assert result_of("footing of many letters", its_name) == "footing of many"
    assert result_of("footing alone", is_group_of_its_own)
