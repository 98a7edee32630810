"""``protocol``: the protocols that ship, as JSON to begin from, and a check of one written by hand."""

from __future__ import annotations

import argparse
import re
import sys
from collections import Counter
from collections.abc import Sequence

from nublet.cli.offline import answer_file, print_json, print_text, read_text, refuse
from nublet.core.design.areas import PanelSize, check_panel_size
from nublet.core.design.layout import check_margin
from nublet.core.design.site_fit import check_sites_fit
from nublet.core.errors import NubletError, ShelfError
from nublet.core.protocols.shipped import PROTOCOLS, TESTS
from nublet.core.protocols.tests import Protocol
from nublet.formats.protocol_json import protocol_from_json, protocol_to_json

_SIZE = re.compile(r"(\d+(?:\.\d+)?)[x×](\d+(?:\.\d+)?)")


def main(arguments: Sequence[str] | None = None) -> int:
    """List, show or check; 0 when it worked, 2 when there is no such protocol or the file cannot be used."""
    options = _parser().parse_args(arguments)
    if options.what == "list":
        listed = TESTS.values() if options.tests else PROTOCOLS.values()
        width = max(len(each.id) for each in listed)
        print_text("\n".join(f"{each.id:{width}}  {each.name}: {each.says}" for each in listed))
        return 0
    if options.what == "show":
        protocol = PROTOCOLS.get(options.id)
        if protocol is None:
            return refuse(
                "protocol", f"no protocol {options.id!r} ships. Choose one of: {', '.join(PROTOCOLS)}."
            )
        print_json(protocol_to_json(protocol))
        return 0
    return answer_file(
        "protocol",
        options.file,
        lambda: _checked(options),
        as_json=protocol_to_json,
        as_words=describe,
        json_wanted=options.json,
    )


def describe(protocol: Protocol) -> str:
    """What a protocol that can be carried out asks for, in words."""
    kinds = Counter(test.site.kind for test in protocol.tests)
    where = ", ".join(f"{n} {kind}{'s' if n > 1 else ''}" for kind, n in kinds.items())
    n_own = sum(test.uses_up_panel for test in protocol.tests)
    lines = [
        f"{protocol.name} can be carried out: {len(protocol.tests)} tests on {where}; "
        f"looks: {', '.join(look.name for look in protocol.all_looks)}.",
        *(f"{test.name} uses its panel up." for test in protocol.tests if test.uses_up_panel),
    ]
    if n_own:
        lines.append(f"Beside the panel for the rest each build-up needs {n_own} more on each board.")
    return "\n".join(lines)


def _checked(options: argparse.Namespace) -> Protocol:
    try:
        protocol = protocol_from_json(read_text(options.file))
        if options.panel is not None:
            check_panel_size(options.panel)
            check_margin(options.margin)
            check_sites_fit(options.panel, protocol.tests, margin_mm=options.margin)
    except NubletError as error:
        raise ShelfError(f"{error.field}: {error.message}" if error.field else error.message) from error
    return protocol


def _size(text: str) -> PanelSize:
    found = _SIZE.fullmatch(text)
    if found is None:
        raise argparse.ArgumentTypeError(f"{text!r} is no size; write length x width in mm, such as 400x150")
    return PanelSize(length_mm=float(found[1]), width_mm=float(found[2]))


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="./nublet protocol",
        description="The protocols that ship, and a check of one written by hand. Exit code 2: it cannot be used.",
    )
    what = parser.add_subparsers(dest="what", required=True, metavar="WHAT")
    listing = what.add_parser("list", help="a line for each protocol that ships, beginning with its id")
    listing.add_argument(
        "--tests", action="store_true", help="the tests to pick from, in place of the protocols"
    )
    showing = what.add_parser("show", help="a protocol as JSON, which check accepts")
    showing.add_argument("id", help="the protocol's id")
    checking = what.add_parser(
        "check", help="say whether a protocol can be carried out, or what is wrong where"
    )
    checking.add_argument("file", help="JSON with the fields of docs/protocols.md; - for standard input")
    checking.add_argument(
        "--panel", type=_size, help="also whether its sites fit on a panel, such as 400x150 (mm)"
    )
    checking.add_argument(
        "--margin", type=float, default=15.0, help="mm round every site (default %(default)s)"
    )
    checking.add_argument("--json", action="store_true", help="print the protocol in its canonical form")
    return parser


if __name__ == "__main__":
    sys.exit(main())
