"""The command line: serve, demo, backup, restore, export, import."""

from __future__ import annotations

import ipaddress
import logging
import os
import socket
import sys
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from cross_staff import __version__
from cross_staff.settings import Settings
from cross_staff.storage.serving import only_server

if TYPE_CHECKING:
    from cross_staff.services.carry.take_in import Part, Preview
    from cross_staff.storage.database import Database

app = typer.Typer(help="Cross Staff: the bow technician's bench.", no_args_is_help=True)
HOST = "127.0.0.1"
PORT = 8000
TURN_S = 0.0002  # a save hands the processor over some fifty times, and must not wait long for each
Host = Annotated[str, typer.Option(help="Address to listen on; off this machine the shop's passphrase is asked for.")]
Port = Annotated[int, typer.Option(help="Port to listen on.", min=1, max=65535)]
Data = Annotated[Path | None, typer.Option(help="Data folder; CROSS_STAFF_DATA names it too.")]
Behind = Annotated[str, typer.Option(help="The https address that a reverse proxy on this machine gives it.")]
Yes = Annotated[bool, typer.Option("--yes", help="Do not ask first.")]


def _version(wanted: bool) -> None:
    if wanted:
        typer.echo(f"Cross Staff {__version__}")
        raise typer.Exit


@app.callback()
def main(
    version: Annotated[
        bool, typer.Option("--version", help="Say the version, and end.", callback=_version, is_eager=True)
    ] = False,
) -> None:
    """Cross Staff: the bow technician's bench."""


@app.command()
def serve(
    host: Host = HOST,
    port: Port = PORT,
    data: Data = None,
    backups: Annotated[
        Path | None, typer.Option(help="Folder for the nightly backups, best on another disk; CROSS_STAFF_BACKUPS too.")
    ] = None,
    behind: Behind = "",
) -> None:
    """Serve the application on the data folder, and back it up every night."""
    with _said_in_a_line("cannot start"):
        settings = _settings(data).model_copy(update={"nightly": True, "beside": True})
        settings = settings.model_copy(update={"backups": backups} if backups else {})
        settings = settings.model_copy(update={"behind": behind} if behind else {})
        settings = _listening(settings, host, port)
        with only_server(settings.data):
            _run(host, port, settings, logging.INFO)


@app.command()
def demo(host: Host = HOST, port: Port = PORT) -> None:
    """Serve the application on a fresh copy of the demo data."""
    with _said_in_a_line("cannot start"), tempfile.TemporaryDirectory(prefix="cross-staff-demo-") as folder:
        settings = _listening(Settings(data=Path(folder), demo=True), host, port)
        _say_progress("putting the demo shop up")
        from cross_staff.demo.shop import fill
        from cross_staff.storage.database import Database

        database = Database(settings.database_file)
        database.migrate()
        fill(database, lambda done, of: _say_progress(f"{done} of {of} rigs are on the bench", done == of))
        database.close()
        _run(host, port, settings)


def _say_progress(words: str, last: bool = False) -> None:
    """How far it is: over the same line where somebody watches, else a line at the beginning and the end."""
    if sys.stderr.isatty():
        typer.echo(f"\r{words:<40}", err=True, nl=last)
    elif last or not words[0].isdecimal():
        typer.echo(words, err=True)


@app.command()
def simulate(
    kind: Annotated[str, typer.Argument(help="chronograph, inclinometer, rangefinder, scale or caliper.")],
    port: Annotated[int, typer.Option(help="Port to listen on.", min=1, max=65535)] = 7001,
    host: Annotated[str, typer.Option(help="Address to listen on.")] = HOST,
    value: Annotated[
        list[str] | None, typer.Option(help="What it measures, as figure=number in m/s, deg, m, g or mm: speed=81.4.")
    ] = None,
    faults: Annotated[
        str,
        typer.Option(
            help="all, none, or some with commas: warm_up, dropouts, doubles, wrong_units, bad_lines, leaves."
        ),
    ] = "none",
    seed: Annotated[int, typer.Option(help="The same seed, the same readings.", min=0)] = 1,
    practice: Annotated[int | None, typer.Option(help="A rig of the practice bench: it reads that bow.", min=1)] = None,
    data: Data = None,
) -> None:
    """A made-up measuring instrument that speaks as a real one does, faults too (docs/instruments.md)."""
    import asyncio

    from cross_staff.devices.simulate import listening
    from cross_staff.devices.stand_ins import stand_in

    async def run() -> None:
        async with listening(made, host, port) as at:
            typer.echo(f"A {kind} is at {host}:{at}  (stop with Ctrl C)")
            await asyncio.Event().wait()

    with _said_in_a_line("cannot start"):
        values = [*(_of_practice(practice, kind, data) if practice else ()), *(value or ())]
        made = stand_in(kind, values, faults, seed)
        _refuse_taken(host, port)
        asyncio.run(run())


def _of_practice(rig_id: int, kind: str, data: Path | None) -> list[str]:
    """What an instrument of a kind reads of a practice bow, as figure=number."""
    from cross_staff.core.rig.taken import GIVES
    from cross_staff.services.practice.record import on_instruments
    from cross_staff.storage.database import Database

    database = Database(_settings(data).database_file)
    try:
        shown = on_instruments(database, rig_id)
    finally:
        database.close()
    return [f"{figure}={shown[figure]:.4f}" for figure in GIVES.get(kind, ()) if figure in shown]  # type: ignore[call-overload]


@app.command()
def backup(
    file: Annotated[Path, typer.Argument(help="The file to write.")],
    data: Data = None,
    over: Annotated[bool, typer.Option("--over", help="Write over a backup of that name.")] = False,
) -> None:
    """Copy everything, photos too, into one checked file, also while it is served."""
    from cross_staff.services.keeping.backups import backup as made

    with _said_in_a_line("made no backup"):
        held = made(_settings(data).database_file, file, over)
        typer.echo(f"{file}: {held.rigs} rigs, {held.records} records, {_size(held.size)}; checked.")


@app.command()
def restore(
    file: Annotated[Path, typer.Argument(help="The backup to put back.")], data: Data = None, yes: Yes = False
) -> None:
    """Put a backup in the place of the data; it is checked first, and what was there is kept."""
    from cross_staff.services.keeping.restore import check
    from cross_staff.services.keeping.restore import restore as put_back

    with _said_in_a_line("restored nothing"):
        settings, held = _settings(data), check(file)
        newest = f", the newest of {held.newest:%Y-%m-%d %H:%M} UTC" if held.newest else ""
        typer.echo(f"{file}: {held.rigs} rigs, {held.records} records{newest}; it is sound.")
        _ask(yes, f"Put it in the place of what is in {settings.data}?")
        done = put_back(settings.database_file, file, datetime.now(UTC))
        typer.echo("Restored." + (f" What was there is kept as {done.kept}." if done.kept else ""))


@app.command()
def export(
    rig: Annotated[str, typer.Argument(help="The rig's number, or its name.")] = "",
    file: Annotated[Path | None, typer.Argument(help="The file to write: .json, or .zip with the photos.")] = None,
    every: Annotated[
        Path | None, typer.Option("--all", metavar="FOLDER", help="Write every rig, sight and level there.")
    ] = None,
    data: Data = None,
) -> None:
    """Write a rig with everything of it as a file, or all of them into a folder."""
    from cross_staff.services.carry import write

    if (every is None) == (not rig or file is None):
        raise typer.BadParameter("say a rig and a file, or --all and a folder")
    with _said_in_a_line("wrote nothing"), _opened(data, there=True) as database:
        if every is not None:
            count = write.write_all(database, every, lambda name: typer.echo(f"  {name}"))
            typer.echo(f"{count} files in {every}.")
        elif file is not None:
            write.write_rig(database, write.rig_named(database, rig), file)
            typer.echo(f"{file}: written.")


@app.command("import")
def take_in(
    file: Annotated[Path, typer.Argument(help="A file that was exported: a rig, a sight model or instruments.")],
    data: Data = None,
    beside: Annotated[bool, typer.Option("--beside", help="Where both went on, take it in as another one.")] = False,
    yes: Yes = False,
) -> None:
    """Take a file in: it is checked, what it would do is said, and then all of it is done, or nothing."""
    from cross_staff.services.carry import documents
    from cross_staff.services.carry import take_in as service

    with _said_in_a_line("took nothing in"), _opened(data) as database:
        document = documents.read_file(file)
        seen = service.preview(database, document)
        for line in _would_do(seen):
            typer.echo(line)
        if not seen.brings and not (seen.parted and beside):
            if seen.parted:
                typer.echo("Both went on: --beside takes it in as another one.")
            raise typer.Exit(1 if seen.parted else 0)
        _ask(yes, "Take it in?")
        taken = service.take_in(database, document, datetime.now(UTC), beside)
        where = f" as rig {taken.rig_id}" if taken.rig_id is not None else ""
        typer.echo(f"Taken in{where}: {taken.records} records.")


def _would_do(seen: Preview) -> Iterator[str]:
    """What taking a file in would do, a line each."""
    from cross_staff.core.carry.records import LOGS
    from cross_staff.services.carry.take_in import NUMBERS

    if seen.edited:
        yield "This file was edited since it was written; every rule was checked."
    for part in (*seen.parts, *seen.instruments):
        yield f"{part.what} “{part.name}”: {_lies(part)}"
        for name, count in part.relation.brings.items():
            yield f"  {'revisions' if name == NUMBERS else LOGS[name]}: {count}"
    if seen.pictures:
        yield f"{seen.pictures} photos come with it."
    if seen.without_picture:
        yield f"{seen.without_picture} photos are not in the file: only the zip has them."


def _lies(part: Part) -> str:
    from cross_staff.core.carry.relation import WORDS

    return WORDS[part.relation.lies]


@contextmanager
def _said_in_a_line(what: str) -> Iterator[None]:
    """What stands in the way: one line, with what to do about it."""
    from cross_staff.core.errors import CrossStaffError, NotKept
    from cross_staff.services.carry.documents import Unreadable

    try:
        yield
    except NotKept as error:
        typer.echo(f"Cross Staff {what}: {error}. {error.remedy[0].upper()}{error.remedy[1:]}.", err=True)
        raise typer.Exit(1) from error
    except Unreadable as error:
        lines = "".join(f"\n  {fault}" for fault in error.faults)
        typer.echo(f"Cross Staff {what}; wrong in the file:{lines}", err=True)
        raise typer.Exit(1) from error
    except CrossStaffError as error:
        typer.echo(f"Cross Staff {what}: {getattr(error, 'message', error)}.", err=True)
        raise typer.Exit(1) from error


def _settings(data: Path | None) -> Settings:
    return Settings(data=data) if data else Settings()


def _ask(yes: bool, question: str) -> None:
    if not yes and not typer.confirm(question):
        typer.echo("Nothing was changed.")
        raise typer.Exit(1)


@contextmanager
def _opened(data: Path | None, there: bool = False) -> Iterator[Database]:
    """The data, brought up where it is of an older layout; `there`, it must be there already. Raises NotKept."""
    from cross_staff.core.errors import NotKept
    from cross_staff.storage.database import Database

    file = _settings(data).database_file
    if there and not file.exists():
        raise NotKept(f"there is no data at {file}", "name its folder with --data")
    database = Database(file)
    try:
        database.migrate()
        yield database
    finally:
        database.close()


def _size(count: int) -> str:
    return f"{count / 1e6:.1f} MB" if count >= 1e6 else f"{count / 1e3:.0f} KB"


def _listening(settings: Settings, host: str, port: int) -> Settings:
    """The settings for this address, which is free, with a passphrase where others can reach it."""
    off = not _loopback(host) or bool(settings.behind)
    _refuse_taken(host, port)
    if settings.behind:
        _refuse_odd(settings.behind)
    if off:
        _passphrase(settings.data)
    return settings.model_copy(update={"off_loopback": off, "port": port})


def _refuse_odd(behind: str) -> None:
    from urllib.parse import urlsplit

    parts = urlsplit(behind)
    if parts.scheme != "https" or not parts.hostname or parts.path.strip("/") or parts.query:
        raise typer.BadParameter(f"{behind} is not the address of a proxy: as https://staff.example")


def _run(host: str, port: int, settings: Settings, logged: int = logging.WARNING) -> None:
    import uvicorn

    from cross_staff.storage.database import Database
    from cross_staff.web import log
    from cross_staff.web.app import create_app
    from cross_staff.web.connections import ImpatientProtocol

    database = Database(settings.database_file)  # what is wrong with it is said before anything listens
    database.migrate()
    database.close()
    shown = f"[{host}]" if ":" in host else host
    typer.echo(f"Cross Staff is at http://{shown}:{port}  (data in {settings.data}; stop with Ctrl C)")
    log.begin(logged)
    app = create_app(settings)
    sys.setswitchinterval(TURN_S)
    config = uvicorn.Config(
        app, host=host, port=port, log_level="warning", timeout_graceful_shutdown=3, http=ImpatientProtocol
    )
    server = uvicorn.Server(config)
    app.state.stopping = lambda: server.should_exit  # what has no end of its own ends then
    server.run()
    if not server.started:
        raise typer.Exit(3)


def _loopback(host: str) -> bool:
    """Whether an address is this machine's alone. Raises BadParameter for what is no address."""
    if host == "localhost":
        return True
    try:
        return ipaddress.ip_address(host).is_loopback
    except ValueError as error:
        raise typer.BadParameter(f"{host} is not an address: use {HOST}, or 0.0.0.0 for the network") from error


def _passphrase(data: Path) -> None:
    """The shop's passphrase, from CROSS_STAFF_PASSPHRASE, or kept, or chosen now."""
    from cross_staff.core.errors import InvalidValue
    from cross_staff.services.shop.passphrase import choose_passphrase, given_passphrase
    from cross_staff.storage import shop

    given = os.environ.get("CROSS_STAFF_PASSPHRASE", "")
    if not given and shop.kept(data) is not None:
        return
    keep = given_passphrase if given else choose_passphrase
    if not given:
        typer.echo("Others in this network can reach the program: choose the shop's passphrase.")
        given = typer.prompt("Passphrase", hide_input=True, confirmation_prompt=True)
    try:
        keep(data, given)
    except InvalidValue as error:
        raise typer.BadParameter(f"passphrase: {error.message}") from error


def _refuse_taken(host: str, port: int) -> None:
    with socket.socket(socket.AF_INET6 if ":" in host else socket.AF_INET) as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((host, port))
        except OSError as error:
            raise typer.BadParameter(f"port {port} is taken: choose another with --port") from error


if __name__ == "__main__":
    app()
