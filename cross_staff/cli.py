"""The command line: cross-staff serve, cross-staff demo."""

from __future__ import annotations

import ipaddress
import os
import socket
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Annotated

import typer

from cross_staff.settings import Settings
from cross_staff.storage.serving import only_server

app = typer.Typer(help="Cross Staff: the bow technician's bench.", no_args_is_help=True)
HOST = "127.0.0.1"
PORT = 8000
Host = Annotated[str, typer.Option(help="Address to listen on; off this machine the shop's passphrase is asked for.")]
Port = Annotated[int, typer.Option(help="Port to listen on.", min=1, max=65535)]


@app.command()
def serve(
    host: Host = HOST,
    port: Port = PORT,
    data: Annotated[Path | None, typer.Option(help="Data folder; CROSS_STAFF_DATA names it too.")] = None,
) -> None:
    """Serve the application on the data folder."""
    with _said_in_a_line():
        settings = _listening(Settings(data=data) if data else Settings(), host, port)
        with only_server(settings.data):
            _run(host, port, settings)


@app.command()
def demo(host: Host = HOST, port: Port = PORT) -> None:
    """Serve the application on a fresh copy of the demo data."""
    from cross_staff.demo.scenario import fill
    from cross_staff.storage.database import Database

    with _said_in_a_line(), tempfile.TemporaryDirectory(prefix="cross-staff-demo-") as folder:
        settings = _listening(Settings(data=Path(folder)), host, port)
        database = Database(settings.database_file)
        database.migrate()
        fill(database)
        database.close()
        _run(host, port, settings)


@contextmanager
def _said_in_a_line() -> Iterator[None]:
    """What stands in the way of starting: one line, with what to do about it."""
    from cross_staff.core.errors import NotKept

    try:
        yield
    except NotKept as error:
        typer.echo(f"Cross Staff cannot start: {error}. {error.remedy[0].upper()}{error.remedy[1:]}.", err=True)
        raise typer.Exit(1) from error


def _listening(settings: Settings, host: str, port: int) -> Settings:
    """The settings for this address, which is free, with a passphrase where others can reach it."""
    off = not _loopback(host)
    _refuse_taken(host, port)
    if off:
        _passphrase(settings.data)
    return settings.model_copy(update={"off_loopback": off, "port": port})


def _run(host: str, port: int, settings: Settings) -> None:
    import uvicorn

    from cross_staff.storage.database import Database
    from cross_staff.web.app import create_app
    from cross_staff.web.connections import ImpatientProtocol

    database = Database(settings.database_file)  # what is wrong with it is said before anything listens
    database.migrate()
    database.close()
    shown = f"[{host}]" if ":" in host else host
    typer.echo(f"Cross Staff is at http://{shown}:{port}  (data in {settings.data}; stop with Ctrl C)")
    uvicorn.run(
        create_app(settings),
        host=host,
        port=port,
        log_level="warning",
        timeout_graceful_shutdown=3,
        http=ImpatientProtocol,
    )


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
    from cross_staff.services.shop import choose_passphrase
    from cross_staff.storage import shop

    given = os.environ.get("CROSS_STAFF_PASSPHRASE", "")
    if not given and shop.kept(data) is not None:
        return
    if not given:
        typer.echo("Others in this network can reach the program: choose the shop's passphrase.")
        given = typer.prompt("Passphrase", hide_input=True, confirmation_prompt=True)
    try:
        choose_passphrase(data, given)
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
