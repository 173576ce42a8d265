"""Secrets are read from where they are named, when they are needed."""

from __future__ import annotations

import keyring
import pytest
from keyring.backend import KeyringBackend
from keyring.errors import KeyringLocked
from typing_extensions import override

from oak_ledge.receivers.errors import NotReadyError
from oak_ledge.receivers.secrets import read_secret


class InMemory(KeyringBackend):
    """A key store that holds what a test put there; a locked one gives nothing."""

    priority = 1
    kept: dict[tuple[str, str], str] = {}  # noqa: RUF012
    locked = False

    @override
    def get_password(self, service, username):
        if self.locked:
            raise KeyringLocked
        return self.kept.get((service, username))

    @override
    def set_password(self, service, username, password):
        self.kept[service, username] = password


@pytest.fixture
def store():
    before = keyring.get_keyring()
    keyring.set_keyring(InMemory())
    yield keyring.get_keyring()
    keyring.set_keyring(before)


def test_a_secret_is_read_where_it_is_named(store, monkeypatch):
    monkeypatch.setenv("QUAY", "lantern")
    store.set_password("oak-ledge", "lab@quay", "rope")
    assert (read_secret("env:QUAY"), read_secret("keyring:lab@quay")) == ("lantern", "rope")
    assert read_secret(None) is None


def test_a_secret_that_is_not_there_is_asked_for_by_its_place(store, monkeypatch):
    monkeypatch.setenv("EMPTY", "")
    for named, why in (
        ("env:EMPTY", "no secret in the environment under EMPTY"),
        ("keyring:boat", "keyring set oak-ledge boat"),
    ):
        with pytest.raises(NotReadyError, match=why):
            read_secret(named)
    monkeypatch.setattr(store, "locked", True)
    with pytest.raises(NotReadyError, match="can't be read for boat"):
        read_secret("keyring:boat")
