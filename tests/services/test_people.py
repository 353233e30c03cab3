"""People who sign in: their roles, their passwords, and those who guess."""

from datetime import datetime
from pathlib import Path

import pytest
from argon2 import PasswordHasher

from arcstack.errors import FieldError, NotFound, TooOften
from arcstack.services import Who
from arcstack.services.people import TRIES_ADDRESS, TRIES_NAME, People, Role
from arcstack.store import Database

WHO = Who("ann", lambda: datetime(2026, 3, 1, 8, 30))
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
    assert said == {"That name and that password do not go together."}


def test_a_session_ends_with_its_password_its_role_and_its_person(people: People) -> None:
    people.put("Ilse", None, WORDS, WHO)
    wen = people.put("Wen", Role.BUILD, WORDS, WHO)
    assert people.of_key(wen.key) == wen
    again = people.put("Wen", None, "another four words", WHO)
    assert people.of_key(wen.key) is None
    assert people.of_key(again.key) == again
    assert again.role is Role.BUILD
    less = people.change(again.id, Role.LOOK, True, WHO)
    assert people.of_key(again.key) is None
    same = people.change(less.id, Role.LOOK, True, WHO)
    assert same.key == less.key
    people.change(less.id, Role.LOOK, False, WHO)
    assert people.of_key(less.key) is None
    with pytest.raises(FieldError, match="do not go together"):
        people.sign_in("Wen", "another four words", "a")
    for key in ("", ":", "x:y", "1:", "999:abc", f"{wen.id}"):
        assert people.of_key(key) is None


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
    key = better.sign_in("Ilse", WORDS, "a").key
    with people.database.session() as session:
        from arcstack.store import People as Rows

        kept = Rows(session).named("Ilse")
    assert kept is not None
    assert "m=16,t=2" in kept.password
    assert people.of_key(key) is not None
