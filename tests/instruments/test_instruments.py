"""Instruments: the line protocol, the drivers over real sockets, and every fault a bench has."""

from __future__ import annotations

import json
import os
import pty
import signal
import socket
import subprocess
import sys
import threading
from collections.abc import Iterator

import pytest

from nublet.instruments.drivers import Instrument
from nublet.instruments.errors import (
    InstrumentAbsentError,
    InstrumentError,
    InstrumentGarbledError,
    InstrumentMismatchError,
    InstrumentRefusedError,
    InstrumentSilentError,
)
from nublet.instruments.lines import (
    KINDS,
    DamagedLineError,
    check_of,
    read_answer,
    write_answer,
    write_refusal,
)
from nublet.instruments.simulated import Fault, SimulatedBench, SimulatedInstrument
from tests.cli.processes import ROOT, run_offline


@pytest.fixture
def bench() -> Iterator[SimulatedBench]:
    with SimulatedBench(seed=7) as running:
        yield running


def ask(instrument: SimulatedInstrument, line: str) -> str:
    return instrument.reply(line.split())


def driver(bench: SimulatedBench, kind: str, timeout_s: float = 2.0) -> Instrument:
    return Instrument(kind, bench.addresses[kind], timeout_s=timeout_s)


@pytest.mark.parametrize("kind", [kind for kind in KINDS if kind != "scanner"])
def test_each_kind_is_read_within_its_range(bench: SimulatedBench, kind: str) -> None:
    reading = driver(bench, kind).read()
    assert set(reading.values) == set(KINDS[kind].quantities)
    for name, quantity in KINDS[kind].quantities.items():
        assert quantity.low <= reading.values[name] <= quantity.high


def test_balance_weighs_what_is_put_on_it_and_is_zeroed(bench: SimulatedBench) -> None:
    balance = driver(bench, "balance")
    ask(bench.instruments["balance"], "PUT g=250")
    assert balance.read().values["g"] == pytest.approx(250, abs=0.2)
    balance.zero()
    assert balance.read().values["g"] == pytest.approx(0, abs=0.2)
    ask(bench.instruments["balance"], "PUT g=262.5")
    assert balance.read().values["g"] == pytest.approx(12.5, abs=0.3)


def test_scanner_gives_each_code_once(bench: SimulatedBench) -> None:
    scanner = driver(bench, "scanner")
    ask(bench.instruments["scanner"], "PUT code=K7")
    assert scanner.read().code == "K7"
    with pytest.raises(InstrumentRefusedError, match="nothing was scanned"):
        scanner.read()


@pytest.mark.parametrize(
    ("fault", "error", "says"),
    [
        ("slow", InstrumentSilentError, r"did not answer within 0\.2 s"),
        ("unplugged", InstrumentSilentError, "fell silent in the middle of its answer. Was it unplugged"),
        ("garbled", InstrumentGarbledError, "its lines come damaged"),
        ("unstable", InstrumentRefusedError, "does not come to rest"),
        ("wild", InstrumentRefusedError, "it gave 1e\\+08 g, outside -50 to 50000"),
    ],
)
def test_faults_are_told_apart(
    bench: SimulatedBench, fault: Fault, error: type[InstrumentError], says: str
) -> None:
    bench.instruments["balance"].fault = fault
    bench.instruments["balance"].slow_s = 0.6
    with pytest.raises(error, match=says) as caught:
        driver(bench, "balance", timeout_s=0.2 if fault == "slow" else 2.0).read()
    message = caught.value.message
    assert message.startswith(f"The balance at {bench.addresses['balance']}")
    assert message.endswith("Or type the value.")
    bench.instruments["balance"].fault = "none"
    assert driver(bench, "balance").read().values["g"] > 0


def test_one_damaged_line_is_asked_for_again(bench: SimulatedBench) -> None:
    instrument = bench.instruments["climate"]
    whole, n_asked = instrument.answer, 0

    def damaged_once(line: bytes, write: object) -> bool:
        nonlocal n_asked
        n_asked += 1
        instrument.fault = "garbled" if n_asked == 1 else "none"
        return whole(line, write)  # type: ignore[arg-type]

    instrument.answer = damaged_once  # type: ignore[method-assign]
    assert driver(bench, "climate").read().values["rh"] == pytest.approx(51, abs=8)
    assert n_asked == 2


def test_nothing_there() -> None:
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        port = taken.getsockname()[1]
    for address in (f"socket://127.0.0.1:{port}", "/dev/no-such-line"):
        with pytest.raises(InstrumentAbsentError, match="switched on and plugged in"):
            Instrument("gloss", address).read()


def test_another_kind_answers(bench: SimulatedBench) -> None:
    with pytest.raises(InstrumentMismatchError, match="a gloss meter answers, not a balance"):
        Instrument("balance", bench.addresses["gloss"]).read()
    with pytest.raises(InstrumentMismatchError, match="no instrument called 'oven'"):
        Instrument("oven", "socket://127.0.0.1:1")


def test_a_real_serial_line() -> None:
    """A pseudo-terminal: the driver opens it as it would a port, and an instrument answers at the other end."""
    ours, theirs = pty.openpty()

    def answer() -> None:
        received = b""
        while not received.endswith(b"\n"):
            received += os.read(ours, 1)
        os.write(ours, write_answer("block", {"c": 85.5}).encode() + b"\r\n")

    thread = threading.Thread(target=answer, daemon=True)
    thread.start()
    try:
        assert Instrument("block", os.ttyname(theirs)).read().values == {"c": 85.5}
    finally:
        thread.join(5)
        os.close(theirs)
        os.close(ours)


@pytest.mark.parametrize(
    "line",
    [b"balance g=412.31 stable=yes *59\n", b"balance g=412.31 stable=yes\n", b"\xff\xfe\n", b"*00\n", b"\n"],
)
def test_damaged_lines_are_refused(line: bytes) -> None:
    with pytest.raises(DamagedLineError):
        read_answer(line)


def test_every_single_damaged_sign_is_noticed() -> None:
    whole = write_answer("climate", {"c": 20.4, "rh": 51.0}).encode()
    assert read_answer(whole + b"\r\n").fields == {"c": "20.4", "rh": "51.0"}
    for place in range(len(whole)):
        for flip in (1, 2, 64):
            damaged = whole[:place] + bytes([whole[place] ^ flip]) + whole[place + 1 :]
            with pytest.raises(DamagedLineError):
                read_answer(damaged)


def test_refusals_and_unknown_words(bench: SimulatedBench) -> None:
    assert (
        write_refusal("empty", "nothing was scanned")
        == f"! empty nothing was scanned *{check_of('! empty nothing was scanned ')}"
    )
    instrument = bench.instruments["balance"]
    assert read_answer(ask(instrument, "WHO").encode()).fields == {"model": "simulated"}
    assert "does not know SING" in read_answer(ask(instrument, "SING").encode()).refused
    assert "has no colour" in read_answer(ask(instrument, "PUT colour=red").encode()).refused
    assert "much is no number" in read_answer(ask(instrument, "PUT g=much").encode()).refused
    assert "does not know ZERO" in read_answer(ask(bench.instruments["gloss"], "ZERO").encode()).refused


def test_command_reads_one_and_says_what_is_wrong(bench: SimulatedBench) -> None:
    done = run_offline("instruments", "colour", bench.addresses["colour"])
    assert done.returncode == 0, done.stderr
    assert set(json.loads(done.stdout)["values"]) == {"l", "a", "b"}
    done = run_offline("instruments", "balance", bench.addresses["colour"])
    assert (done.returncode, done.stdout) == (2, "")
    assert "a colour meter answers" in done.stderr
    assert run_offline("instruments").returncode == 2


def test_command_runs_the_simulated_ones() -> None:
    with subprocess.Popen(
        [sys.executable, str(ROOT / "nublet"), "instruments", "--simulate"], stdout=subprocess.PIPE, text=True
    ) as running:
        assert running.stdout is not None
        lines = [running.stdout.readline() for _ in range(len(KINDS) + 1)]
        address = next(line.split()[-1] for line in lines if line.startswith("thermo-hygrometer"))
        assert Instrument("climate", address).read().values["c"] == pytest.approx(20.4, abs=2)
        running.send_signal(signal.SIGTERM)
        assert running.wait(10) == 0
