"""``./nublet start`` as a whole process: up, used, stopped, up again with its data."""

from __future__ import annotations

import json
import os
import signal
import socket
import time
from pathlib import Path

import pytest

from nublet.cli import processes
from nublet.cli.database import any_free_port, port_is_free
from nublet.cli.services import QUEUES
from tests.cli.launched import PASSWORD, Running, sign_in, until_it_answers


@pytest.fixture
def var(tmp_path: Path) -> Path:
    return tmp_path / "var"


def test_start_serve_stop_and_start_again(var: Path) -> None:
    port = any_free_port()
    first = Running(
        var,
        f"--port={port}",
        NUBLET_SHOP="Tarn Yard",
        NUBLET_OWNER="nell",
        NUBLET_OWNER_NAME="Nell",
        NUBLET_OWNER_PASSWORD=PASSWORD,
    )
    try:
        assert first.address == f"http://127.0.0.1:{port}", first.printed
        assert "Nell may now sign in as nell" in first.printed
        assert sign_in(first.address)["role"] == "owner"
        kept = json.loads((var / "shop" / "db" / "access.json").read_text())
        assert not port_is_free(kept["port"])
    finally:
        code = first.stop(signal.SIGINT)
    assert code == 130
    assert port_is_free(port)
    assert port_is_free(kept["port"])

    # Its port is taken now: it says so and takes another. The owner is still there, and is not asked for again.
    with socket.socket() as taken:
        taken.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        taken.bind(("127.0.0.1", port))
        taken.listen()
        again = Running(var, f"--port={port}")
        try:
            assert f"Port {port} is taken" in again.printed
            assert again.address != first.address
            assert "may now sign in" not in again.printed
            assert sign_in(again.address)["display_name"] == "Nell"
        finally:
            assert again.stop(signal.SIGTERM) == 130


def test_without_an_owner_or_a_terminal_it_says_what_to_set(var: Path) -> None:
    refused = Running(var)
    refused.process.communicate(timeout=60)
    assert refused.process.returncode == 1
    assert "Set NUBLET_SHOP, NUBLET_OWNER" in refused.printed
    assert "Traceback" not in refused.printed


def test_after_a_killed_launcher_the_next_start_comes_up(opened: Path) -> None:
    """Killed, it can stop nothing: what it left behind is found and ended, and the data is there."""
    port = any_free_port()
    for _ in range(int(os.environ.get("NUBLET_STARTS", "1"))):
        running = Running(opened, f"--port={port}")
        assert running.address == f"http://127.0.0.1:{port}", running.printed
        running.process.kill()
        running.process.communicate()
    last = Running(opened, f"--port={port}")
    try:
        assert last.address == f"http://127.0.0.1:{port}", last.printed
        assert sign_in(last.address)["role"] == "owner"
    finally:
        last.stop(signal.SIGINT)


def test_what_dies_is_started_again_and_said_and_a_closed_terminal_stops_everything(opened: Path) -> None:
    running = Running(opened, f"--port={any_free_port()}")
    try:
        database, web = opened / "shop" / "db" / "server.pid", opened / "shop" / "web.pid"
        for pid_file in (database, web, opened / "shop" / "papers.pid", database):
            was = pid_file.read_text()
            os.kill(int(was), signal.SIGKILL)
            while pid_file.read_text() == was:
                time.sleep(0.05)
            until_it_answers(running.address)
        assert sign_in(running.address)["role"] == "owner"
    finally:
        running.process.send_signal(signal.SIGHUP)
        said, _ = running.process.communicate(timeout=60)
    assert running.process.returncode == 130
    assert port_is_free(int(running.address.rsplit(":", 1)[1]))
    assert not processes.running_with(opened / "shop" / "db" / "server.pid", "mariadbd")
    assert not [q for q in QUEUES if processes.running_with(opened / "shop" / f"{q}.pid", "manage.py")]
    assert said.count("The database has died; starting it again.") == 2
    assert said.count("The application has died; starting it again.") == 1
    assert said.count("The worker for papers has died; starting it again.") == 1
    assert "The worker for plans has died" not in said
