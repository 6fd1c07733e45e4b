"""Where the data lives, and the limits of the server."""

from __future__ import annotations

from pathlib import Path

from platformdirs import user_data_path
from pydantic_settings import BaseSettings, SettingsConfigDict


class Settings(BaseSettings):
    """Read from the environment: CROSS_STAFF_DATA names the data folder."""

    model_config = SettingsConfigDict(env_prefix="CROSS_STAFF_")

    data: Path = user_data_path("cross-staff", appauthor=False)
    backups: Path | None = None  # where the backups of the night go; a folder beside the data where it is not said
    nightly: bool = False  # whether they are made
    beside: bool = False  # whether rigs are worked out beside the pages, so that no bench waits for many of them
    demo: bool = False  # whether all of it is made up, and goes with the program
    behind: str = ""  # the address that a reverse proxy gives it, as https://staff.example
    off_loopback: bool = False  # whether it listens to the network too, behind the shop's passphrase
    port: int = 8000
    busy_timeout_ms: int = 5000  # how long a save waits for another program that holds the data
    body_limit_bytes: int = 512 * 1024
    # a photo that is too large is still taken in, to disk, so that the form can say so and keep the rest
    upload_limit_bytes: int = 96 * 1024 * 1024

    @property
    def database_file(self) -> Path:
        return self.data / "cross-staff.sqlite3"
