"""People who sign in: their roles, their passwords, and those who guess."""

from datetime import UTC, datetime, timedelta
from pathlib import Path

import pyotp
import pytest
from argon2 import PasswordHasher

from arcstack.application import Who, second_factor
from arcstack.application.people import TRIES_ADDRESS, TRIES_NAME, WINDOW_S, People, Role
from arcstack.application.sessions import IDLE, WHOLE, Sessions
from arcstack.errors import FieldError, NotFound, TooOften
from arcstack.store import Database

NOW = datetime(2026, 3, 1, 8, 30)
WHO = Who("ann", lambda: NOW)
WORDS = "four old seats ring"
QUICK = PasswordHasher(time_cost=1, memory_cost=8, parallelism=1)


@pytest.fixture
def people(tmp_path: Path) -> People:
    return People(Database.open(tmp_path / "workshop.sqlite"), QUICK)


def test_the_first_is_an_owner_and_there_is_always_one(people: People) -> None:
    assert not people.any()
    with pytest.raises(FieldError, match="The first is an owner"):
        people.put("Ilse", Role.LOOK, WORDS, WHO)
    ilse = people.put("Ilse", None, WORDS, WHO)
    assert ilse.role is Role.OWNER
    assert people.any()
    assert people.put("Wen", None, WORDS, WHO).role is Role.MEASURE
    for change in ((Role.BUILD, True), (Role.OWNER, False)):
        with pytest.raises(FieldError, match="last owner"):
            people.change(ilse.id, *change, WHO)
    with pytest.raises(FieldError, match="last owner"):
        people.put("Ilse", Role.LOOK, WORDS, WHO)
    people.put("Ada", Role.OWNER, WORDS, WHO)
    assert people.change(ilse.id, Role.BUILD, True, WHO).role is Role.BUILD
    with pytest.raises(NotFound):
        people.change(99, Role.LOOK, True, WHO)


def test_a_password_is_kept_as_a_slow_hash_and_nowhere_else(people: People) -> None:
    people.put("Ilse", None, WORDS, WHO)
    people.database.engine.dispose()
    kept = b"".join(p.read_bytes() for p in people.database.path.parent.iterdir())
    assert WORDS.encode() not in kept
    assert b"$argon2id$" in kept


@pytest.mark.parametrize(
    ("password", "words"),
    [("short", "10 characters"), ("x" * 201, "10 characters"), ("ilse-ilse-1", "guessed at once"),
     ("aaaaaaaaaaaa", "guessed at once"), ("", "10 characters")],
)  # fmt: skip
def test_passwords_that_are_guessed_at_once_are_refused(people: People, password: str, words: str) -> None:
    with pytest.raises(FieldError, match=words):
        people.put("Ilse", None, password, WHO)
    assert not people.any()


@pytest.mark.parametrize("name", ["", "   ", "workshop"])
def test_a_person_has_a_name(people: People, name: str) -> None:
    with pytest.raises(FieldError, match="has a name"):
        people.put(name, None, WORDS, WHO)


def test_signing_in_says_the_same_of_a_wrong_name_and_a_wrong_password(people: People) -> None:
    people.put("Ilse", None, WORDS, WHO)
    assert people.sign_in(" ILSE ", WORDS, "a").name == "Ilse"
    said = set()
    for name, password in (("Ilse", "wrong words here"), ("Nobody", WORDS), ("Ilse", ""), ("Ilse", "x" * 10_000)):
        with pytest.raises(FieldError) as error:
            people.sign_in(name, password, "a")
        said.add(error.value.message)
    assert len(said) == 1
    assert "do not go together" in said.pop()


def test_a_session_ends_with_its_password_its_role_and_its_person(people: People) -> None:
    sessions = Sessions(people.database)
    people.put("Ilse", None, WORDS, WHO)
    wen = people.put("Wen", Role.BUILD, WORDS, WHO)
    token = sessions.begin(wen, "tablet", "10.0.0.2", NOW)
    assert sessions.person(token, NOW) == wen
    again = people.put("Wen", None, "another four words", WHO)
    assert sessions.person(token, NOW) is None
    assert again.role is Role.BUILD
    token = sessions.begin(again, "tablet", "10.0.0.2", NOW)
    less = people.change(again.id, Role.LOOK, True, WHO)
    assert sessions.person(token, NOW) is None
    token = sessions.begin(less, "tablet", "10.0.0.2", NOW)
    people.change(less.id, Role.LOOK, True, WHO)
    assert sessions.person(token, NOW) == less
    people.change(less.id, Role.LOOK, False, WHO)
    assert sessions.person(token, NOW) is None
    with pytest.raises(FieldError, match="do not go together"):
        people.sign_in("Wen", "another four words", "a")
    for key in ("", ":", "x:y", "1:", "999:abc", "x" * 10_000):
        assert sessions.person(key, NOW) is None


def test_a_session_is_over_in_time_and_when_it_is_not_used(people: People) -> None:
    sessions, ilse = Sessions(people.database), people.put("Ilse", None, WORDS, WHO)
    token = sessions.begin(ilse, "tablet", "10.0.0.2", NOW)
    assert sessions.person(token, NOW + IDLE) is None
    at = NOW
    while at + IDLE / 2 < NOW + WHOLE:
        at += IDLE / 2
        assert sessions.person(token, at) == ilse
    # used all the time, and over all the same
    assert sessions.person(token, NOW + WHOLE) is None
    # nor does one hold whose clock was set back below its beginning
    assert sessions.person(token, NOW - timedelta(hours=1)) is None


def test_each_session_is_seen_and_ended_by_itself_and_its_token_stands_nowhere(people: People) -> None:
    sessions = Sessions(people.database)
    ilse, wen = people.put("Ilse", None, WORDS, WHO), people.put("Wen", None, WORDS, WHO)
    first, second = (sessions.begin(wen, d, "10.0.0.2", NOW) for d in ("tablet", "telephone"))
    sessions.begin(ilse, "desk", "10.0.0.3", NOW)
    assert {s.device for s in sessions.all(NOW)} == {"tablet", "telephone", "desk"}
    own = sessions.all(NOW, wen)
    assert {s.person for s in own} == {"Wen"}
    lost = next(s for s in own if s.device == "tablet")
    assert not sessions.end(lost.key, WHO, of=ilse)
    assert sessions.end(lost.key, WHO, of=wen)
    assert not sessions.end(lost.key, WHO)
    assert sessions.person(first, NOW) is None
    assert sessions.person(second, NOW) == wen
    third = sessions.begin(wen, "other", "10.0.0.2", NOW)
    assert sessions.end_of(wen, WHO, but=third) == 1
    assert [s.device for s in sessions.all(NOW, wen)] == ["other"]
    people.database.engine.dispose()
    kept = b"".join(p.read_bytes() for p in people.database.path.parent.iterdir())
    assert third.encode() not in kept


def test_guesses_are_counted_once_for_every_process_that_serves_the_workshop(people: People) -> None:
    people.put("Ilse", None, WORDS, WHO)
    other = People(Database.open(people.database.path), QUICK)
    for n in range(TRIES_NAME):
        with pytest.raises(FieldError):
            (people, other)[n % 2].sign_in("Ilse", f"wrong {n}", f"address {n}")
    for one in (people, other, People(Database.open(people.database.path), QUICK)):
        with pytest.raises(TooOften):
            one.sign_in("Ilse", WORDS, "another")
    later = Who("x", lambda: datetime.now(UTC).replace(tzinfo=None) + timedelta(seconds=WINDOW_S + 1))
    assert other.sign_in("Ilse", WORDS, "another", who=later).name == "Ilse"


def test_every_name_and_every_length_costs_one_hash(people: People, monkeypatch: pytest.MonkeyPatch) -> None:
    """201 characters told a name by taking no time at all: what is counted here cannot be told by time."""
    people.put("Ilse", None, WORDS, WHO)
    wen = people.put("Wen", None, WORDS, WHO)
    people.change(wen.id, Role.MEASURE, False, WHO)
    people.sign_in("Ilse", WORDS, "a")
    worked: list[str] = []
    real = people._is
    monkeypatch.setattr(people, "_is", lambda h, w: worked.append(w) or real(h, w))
    for n, (name, password) in enumerate(
        (("Ilse", "x" * 201), ("Nobody", "x" * 201), ("Wen", WORDS), ("Ilse", ""), ("Nobody", ""), ("Ilse", "x" * 9))
    ):
        worked.clear()
        with pytest.raises(FieldError):
            people.sign_in(name, password, f"address {n}")
        assert len(worked) == 1, (name, len(password))


def test_a_code_is_asked_where_one_was_chosen_and_taken_once(people: People) -> None:
    ilse = people.put("Ilse", None, WORDS, WHO)
    secret, clock = second_factor.new_secret(), [NOW]
    who = Who("Ilse", lambda: clock[0])

    def code() -> str:
        return pyotp.TOTP(secret).at(int(clock[0].replace(tzinfo=UTC).timestamp()))

    with pytest.raises(FieldError, match="not the code of this secret"):
        people.set_second(ilse.id, secret, "000000" if code() != "000000" else "000001", who)
    assert not people.sign_in("Ilse", WORDS, "a", who=who).second
    people.set_second(ilse.id, secret, code(), who)
    # the one that set it up is used
    for wrong in ("", code(), "12345", "abcdef"):
        with pytest.raises(FieldError, match="do not go together"):
            people.sign_in("Ilse", WORDS, f"for {wrong}", wrong, who)
    clock[0] += timedelta(minutes=20)
    assert people.sign_in("Ilse", WORDS, "a", code(), who).second
    with pytest.raises(FieldError):
        people.sign_in("Ilse", WORDS, "b", code(), who)
    clock[0] += timedelta(seconds=30)
    with pytest.raises(FieldError):
        people.sign_in("Ilse", "wrong words here", "b", code(), who)
    assert people.sign_in("Ilse", WORDS, "c", code(), who).name == "Ilse"
    # a new password leaves it as it is; the owner can take it away
    people.put("Ilse", None, "another four words", who)
    clock[0] += timedelta(minutes=20)
    with pytest.raises(FieldError):
        people.sign_in("Ilse", "another four words", "d", "", who)
    people.set_second(ilse.id, "", "", who)
    assert people.sign_in("Ilse", "another four words", "e", "", who).name == "Ilse"


def test_who_guesses_waits_and_not_even_the_right_one_is_let_in(people: People) -> None:
    people.put("Ilse", None, WORDS, WHO)
    people.put("Wen", None, WORDS, WHO)
    for n in range(TRIES_NAME):
        with pytest.raises(FieldError):
            people.sign_in("ilse", f"wrong {n}", f"address {n}")
    with pytest.raises(TooOften, match="Wait 5 minutes"):
        people.sign_in("Ilse", WORDS, "another")
    assert people.sign_in("Wen", WORDS, "another").name == "Wen"


def test_one_address_that_tries_many_names_waits_too(people: People) -> None:
    people.put("Ilse", None, WORDS, WHO)
    for n in range(TRIES_ADDRESS):
        with pytest.raises(FieldError):
            people.sign_in(f"name {n}", "wrong", "one")
    with pytest.raises(TooOften):
        people.sign_in("Ilse", WORDS, "one")
    assert people.sign_in("Ilse", WORDS, "two").name == "Ilse"


def test_right_ones_are_not_counted(people: People) -> None:
    people.put("Ilse", None, WORDS, WHO)
    for _ in range(TRIES_ADDRESS + 3):
        people.sign_in("Ilse", WORDS, "one")


def test_roles_stand_in_their_order() -> None:
    assert Role.LOOK < Role.MEASURE < Role.BUILD < Role.OWNER
    assert not Role.BUILD < Role.BUILD
    assert max(Role) is Role.OWNER


def test_a_hash_of_lesser_make_is_made_anew_when_its_person_signs_in(people: People) -> None:
    people.put("Ilse", None, WORDS, WHO)
    better = People(people.database, PasswordHasher(time_cost=2, memory_cost=16, parallelism=1))
    better.sign_in("Ilse", WORDS, "a")
    with people.database.session() as session:
        from arcstack.store import People as Rows

        kept = Rows(session).named("Ilse")
    assert kept is not None
    assert "m=16,t=2" in kept.password


def test_a_session_that_is_used_stays_and_leaves_another_as_it_was(people: People) -> None:
    ilse = people.put("Ilse", None, WORDS, WHO)
    sessions = Sessions(people.database)
    used, other = (sessions.begin(ilse, device, "10.0.0.7", NOW) for device in ("tablet", "bench"))
    later = NOW + IDLE / 2
    assert sessions.person(used, later) is not None
    assert {s.device: s.used for s in sessions.all(later)} == {"tablet": later, "bench": NOW}
    assert sessions.person(other, NOW + IDLE + timedelta(seconds=1)) is None
    assert sessions.person(used, NOW + IDLE + timedelta(seconds=1)) is not None
