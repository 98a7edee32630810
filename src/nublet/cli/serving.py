"""``demo`` and ``start``: bring everything up, serve, and take everything down again."""

from __future__ import annotations

import contextlib
import getpass
import json
import os
import secrets
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Callable, Sequence
from contextlib import nullcontext
from pathlib import Path

from nublet.cli.database import PrivateServer, any_free_port, port_is_free
from nublet.cli.environment import (
    ROOT,
    ensure_front_end,
    ensure_python,
    manage,
    process_environment,
)
from nublet.cli.machine import SERVER_NEEDS, ensure_packages
from nublet.cli.services import Service, application, end_orphans, workers
from nublet.cli.steps import LauncherError, step
from nublet.instruments.lines import KINDS
from nublet.instruments.simulated import SimulatedBench

USUAL_PORT = 8321
FIRST_INSTRUMENT_PORT = 8331
UP_TIMEOUT_S = 60.0
_WATCH_EVERY_S = 0.5
_MOST_RESTARTS, _RESTARTS_WITHIN_S = 40, 120.0


def serve(*, demo: bool, reset: bool, port: int) -> int:
    """Set up what is missing, start the database and the application, and serve until Ctrl-C."""
    print("Nublet", file=sys.stderr)
    ensure_packages(SERVER_NEEDS)
    ensure_python()
    ensure_front_end()
    var = Path(os.environ.get("NUBLET_VAR", ROOT / "var")) / ("demo" if demo else "shop")
    own_database = None if os.environ.get("DATABASE_URL") and not demo else PrivateServer(var / "db")
    if reset and own_database is not None:
        with step("Throwing the old demo data away"):
            own_database.remove()
    try:
        with _simulated_bench() if demo else nullcontext() as bench:
            env = _prepare(var, own_database, bench)
            return _serve_web(env, var, port, own_database, bench)
    finally:
        if own_database is not None:
            own_database.stop()


def secret_key(var: Path) -> str:
    """The signing key kept in ``var``, made the first time."""
    kept = var / "secret-key"
    var.mkdir(parents=True, exist_ok=True)
    if not kept.exists():
        kept.touch(mode=0o600)
        kept.write_text(secrets.token_urlsafe(48))
    return kept.read_text().strip()


def _prepare(var: Path, own_database: PrivateServer | None, bench: SimulatedBench | None) -> dict[str, str]:
    """Bring the tables up to date; with a simulated bench the demo is loaded, and told where its instruments are."""
    env = process_environment(NUBLET_VAR=str(var), NUBLET_SECRET_KEY=secret_key(var))
    if own_database is not None:
        with step("Starting the database"):
            env["DATABASE_URL"] = own_database.start().url
    if bench is not None:
        with step("Bringing the tables and the demo up to date"):
            manage("load_demo", "--migrate", "--instruments", json.dumps(bench.addresses), env=env)
        return env
    with step("Bringing the tables up to date"):
        manage("migrate", "--verbosity=0", env=env)
    if manage("open_shop", "--is-empty", env=env).strip() == "yes":
        _make_first_owner(env)
    return env


def _make_first_owner(env: dict[str, str]) -> None:
    """Ask for the first owner, or take them from NUBLET_OWNER, NUBLET_SHOP and NUBLET_OWNER_PASSWORD."""
    if not sys.stdin.isatty() and "NUBLET_OWNER_PASSWORD" not in os.environ:
        raise LauncherError(
            "nobody can sign in yet, and there is no terminal to ask at. Set NUBLET_SHOP, NUBLET_OWNER (the sign-in "
            "name) and NUBLET_OWNER_PASSWORD and start again."
        )
    if "NUBLET_OWNER_PASSWORD" in os.environ:
        username = os.environ.get("NUBLET_OWNER", "owner")
        shop, name = os.environ.get("NUBLET_SHOP", "Workshop"), os.environ.get("NUBLET_OWNER_NAME", username)
    else:
        print("\nNobody can sign in yet. Who owns this shop?", file=sys.stderr)
        shop = input("  Name of the shop: ")
        name = input("  Your name: ")
        username = input("  Sign-in name: ")
        env = {**env, "NUBLET_OWNER_PASSWORD": getpass.getpass("  Password (10 characters or more): ")}
    said = manage("open_shop", "--shop", shop, "--username", username, "--display-name", name, env=env)
    print(f"  {said.strip()}", file=sys.stderr)


def _serve_web(
    env: dict[str, str], var: Path, port: int, database: PrivateServer | None, bench: SimulatedBench | None
) -> int:
    chosen = port
    end_orphans(var)
    if not port_is_free(port):
        chosen = any_free_port()
        print(f"  Port {port} is taken; serving on {chosen} instead.", file=sys.stderr)
    address = f"http://127.0.0.1:{chosen}"
    web = application(env, var, chosen)
    services = [web, *workers(env, var)]
    with step("Starting the application"):
        try:
            for service in services:
                service.start()
            _wait_until_up(web, address)
        except BaseException:
            _stop(services)
            raise
    _print_welcome(address, demo=bench is not None)
    if bench is not None:
        print("  Simulated instruments (docs/instruments.md)")
        for kind, where in bench.addresses.items():
            print(f"    {KINDS[kind].name:18} {where}")
    print("  Ctrl-C stops everything that was started.", flush=True)
    try:
        return _watch(services, database)
    finally:
        _say("\nStopping.")
        _stop(services)


def _watch(services: Sequence[Service], database: PrivateServer | None) -> int:
    """Start again what dies, and say so; give up when it keeps dying."""
    starts: list[float] = []
    while True:
        time.sleep(_WATCH_EVERY_S)
        dead: list[tuple[str, Callable[[], None]]] = []
        if database is not None and not database.is_running:
            dead.append(("The database", database.start_again))
        dead += [(each.name, each.start_again) for each in services if not each.is_running]
        for name, start_again in dead:
            starts = [at for at in starts if time.monotonic() - at < _RESTARTS_WITHIN_S]
            if len(starts) >= _MOST_RESTARTS:
                raise LauncherError(
                    f"{name.lower()} died {_MOST_RESTARTS} times within {_RESTARTS_WITHIN_S:.0f} s. Its own message stands "
                    "above, or in server.log beside the data."
                )
            starts.append(time.monotonic())
            _say(f"{name} has died; starting it again.")
            start_again()


def _say(words: str) -> None:
    """Tell whoever is there; a terminal that was closed is no reason to leave anything running."""
    with contextlib.suppress(OSError):
        print(words, file=sys.stderr, flush=True)


def _simulated_bench() -> SimulatedBench:
    """The simulated instruments at their usual ports, or where there is room."""
    usual = range(FIRST_INSTRUMENT_PORT, FIRST_INSTRUMENT_PORT + len(KINDS))
    return SimulatedBench(first_port=usual[0] if all(port_is_free(port) for port in usual) else 0)


def _wait_until_up(web: Service, address: str) -> None:
    until = time.monotonic() + UP_TIMEOUT_S
    while time.monotonic() < until:
        if not web.is_running:
            raise LauncherError("the application stopped at once. Its own message stands above.")
        try:
            with urllib.request.urlopen(f"{address}/healthz", timeout=5):
                return
        except (urllib.error.URLError, OSError):
            time.sleep(0.1)
    raise LauncherError(f"the application did not answer at {address} within {UP_TIMEOUT_S:.0f} s.")


def _stop(services: Sequence[Service]) -> None:
    """Stop what was started, the workers first."""
    for service in reversed(services):
        service.stop()


def _print_welcome(address: str, *, demo: bool) -> None:
    print(f"\nNublet is ready at {address}")
    if demo:
        print("  Every reading in the demo is simulated. Sign in as")
        print("    nell    password lummerdale-halt   owner: keeps the key, and judges")
        print("    tobias  password lummerdale-halt   judge: sees codes only")
        print("    imara   password lummerdale-halt   judge: sees codes only")
