"""The launcher: what it says when something is missing, and its private database."""

from __future__ import annotations

import os
import shutil
import socket
import stat
from pathlib import Path

import pytest

from nublet.cli import environment, launcher, machine, serving
from nublet.cli.database import Access, PrivateServer, any_free_port, port_is_free
from nublet.cli.steps import LauncherError, run

MISSING = (machine.SystemNeed(packages=("wood-oven", "lamp"), is_there=lambda: False),)


def test_without_root_it_says_which_command_to_run(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(os, "geteuid", lambda: 1000)
    monkeypatch.setattr(shutil, "which", lambda name: None if name == "sudo" else f"/usr/bin/{name}")
    with pytest.raises(LauncherError, match=r"apt-get install -y --no-install-recommends wood-oven lamp"):
        machine.ensure_packages(MISSING)


def test_as_root_it_installs_what_is_missing_and_only_that(monkeypatch: pytest.MonkeyPatch) -> None:
    there: set[str] = {"lamp"}
    commands: list[list[str]] = []

    def fake_run(command: list[str], **_: object) -> str:
        commands.append([str(part) for part in command])
        if "install" in command:
            there.add("oven")
        return ""

    monkeypatch.setattr(os, "geteuid", lambda: 0)
    monkeypatch.setattr(shutil, "which", lambda name: f"/usr/bin/{name}")
    monkeypatch.setattr(machine, "run", fake_run)
    machine.ensure_packages(
        tuple(
            machine.SystemNeed(packages=(name,), is_there=lambda name=name: name in there)  # type: ignore[misc]
            for name in ("oven", "lamp")
        )
    )
    assert [command[1] for command in commands] == ["-q", "-o"]
    assert "oven" in commands[1]
    assert "lamp" not in commands[1]


@pytest.mark.parametrize(("version", "is_fine"), [("v18.20.0", False), ("v20.11.1", True), ("v24.0.0", True)])
def test_node_must_be_new_enough(monkeypatch: pytest.MonkeyPatch, version: str, is_fine: bool) -> None:
    monkeypatch.setattr(shutil, "which", lambda name: f"/usr/bin/{name}")
    monkeypatch.setattr(machine, "run", lambda command: version)
    if is_fine:
        machine.ensure_node()
    else:
        with pytest.raises(LauncherError, match=r"Node\.js 20 or newer"):
            machine.ensure_node()


def test_a_failing_program_shows_its_own_words() -> None:
    with pytest.raises(LauncherError, match=r"exit code 3[\s\S]*the oven is cold"):
        run(["sh", "-c", "echo the oven is cold; exit 3"])
    with pytest.raises(LauncherError, match="is not installed"):
        run(["no-such-program-here"])


def test_a_launcher_error_is_one_plain_message(
    monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    def refuse(**_: object) -> int:
        raise LauncherError("the lamp is missing")

    monkeypatch.setattr(serving, "serve", refuse)
    assert launcher.main(["demo"]) == 1
    assert capsys.readouterr().err == "nublet: the lamp is missing\n"


def test_the_secret_key_is_made_once_and_kept_private(tmp_path: Path) -> None:
    key = serving.secret_key(tmp_path / "var")
    assert len(key) > 40
    assert serving.secret_key(tmp_path / "var") == key
    assert stat.S_IMODE((tmp_path / "var" / "secret-key").stat().st_mode) == 0o600


def test_a_taken_port_is_seen() -> None:
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        assert not port_is_free(taken.getsockname()[1])
    assert port_is_free(any_free_port())


def query(access: Access, sql: str) -> str:
    return run(
        [
            "mariadb", "--no-defaults", "--protocol=tcp", "--host=127.0.0.1", f"--port={access.port}",
            "--user=nublet", f"--password={access.password}", "--skip-column-names", "nublet", "--execute", sql,
        ]
    )  # fmt: skip


def test_the_private_database_keeps_data_and_refuses_a_second_launcher(tmp_path: Path) -> None:
    # A long path: the socket has to go elsewhere, or the server would not start.
    folder = tmp_path / ("deep" * 25) / "db"
    server = PrivateServer(folder)
    assert len(str(server.socket)) <= 107
    first = server.start()
    try:
        assert stat.S_IMODE((folder / "access.json").stat().st_mode) == 0o600
        with pytest.raises(LauncherError, match="already runs"):
            PrivateServer(folder).start()
        query(first, "CREATE TABLE kept (n INT)")
        settings = query(first, "SELECT @@sql_mode, @@innodb_flush_log_at_trx_commit, @@bind_address")
        assert "STRICT_ALL_TABLES" in settings
        assert settings.split()[-2:] == ["1", "127.0.0.1"]
        # Its own folder: a server that starts clears the one it has, which two must not share.
        assert query(first, "SELECT @@tmpdir").split()[-1] == str(folder / "passing")
    finally:
        server.stop()
    again = PrivateServer(folder)
    second = again.start()
    try:
        assert second.password == first.password
        assert query(second, "SHOW TABLES").split() == ["kept"]
    finally:
        again.stop()
    again.remove()
    assert not again.data.exists()


def test_stamps_follow_content(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """A stamp that did not follow what a file holds, or its name, would keep an old environment for good."""
    monkeypatch.setattr(environment, "ROOT", tmp_path)
    one, other = tmp_path / "one.txt", tmp_path / "other.txt"
    one.write_text("numpy==1\n")
    other.write_text("numpy==1\n")
    first = environment._digest([one])
    assert environment._digest([one]) == first
    assert environment._digest([other]) != first
    assert environment._digest([one, other]) != first
    one.write_text("numpy==2\n")
    assert environment._digest([one]) != first
    with pytest.raises(LauncherError, match="missing from the checkout"):
        environment._digest([tmp_path / "nothing-here.txt"])
