"""What the environment says, read once."""

from functools import cache
from typing import Literal, Self

from pydantic import PostgresDsn, model_validator
from pydantic_settings import BaseSettings, SettingsConfigDict


class Settings(BaseSettings):
    """Settings from variables that start with ADZE_."""

    model_config = SettingsConfigDict(env_prefix="ADZE_", frozen=True)

    database_url: PostgresDsn = PostgresDsn("postgresql://adze@127.0.0.1:5432/adze")
    host: str = "127.0.0.1"
    port: int = 8321
    pool_size: int = 8
    session_days: int = 30
    idle_days: int = 14
    sign_ups_an_hour: int = 20
    demo: bool = True
    demos_an_hour: int = 60
    worker: bool = True
    trusted_proxies: str = "127.0.0.1"
    allowed_hosts: str = "*"
    backup_folder: str = ""
    log: Literal["plain", "json"] = "plain"
    metrics: bool = False
    address: str = ""
    smtp_url: str = ""
    mail_from: str = "adze@localhost"
    weather_url: str = ""
    largest_body_bytes: int = 10_000_000
    slowest_body_s: float = 15.0
    longest_answer_s: float = 45.0

    @model_validator(mode="after")
    def _mails_name_the_address(self) -> Self:
        """Links in mails never follow what a request says of its host."""
        if self.smtp_url and not self.address:
            raise ValueError("ADZE_ADDRESS must be set where ADZE_SMTP_URL is, such as https://farm.example")
        return self


@cache
def get_settings() -> Settings:
    """The settings of this process."""
    return Settings()
