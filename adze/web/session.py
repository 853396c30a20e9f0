"""Who is asking: the cookie, the database connection, and the word that every write must carry."""

import secrets
from collections.abc import Iterator
from typing import Annotated

from fastapi import Depends, Form, Header, HTTPException, Request, Response

from adze.services.accounts import Key, who
from adze.settings import Settings
from adze.store.accounts import Session
from adze.store.connection import Connection

COOKIE = "adze_session"
FORM_COOKIE = "adze_form"


class SignInNeeded(Exception):
    """Nobody is signed in."""


def get_connection(request: Request) -> Iterator[Connection]:
    """A connection for one request, committed at its end."""
    with request.app.state.store.transaction() as connection:
        yield connection


Db = Annotated[Connection, Depends(get_connection, scope="function")]


def settings_of(request: Request) -> Settings:
    """The application's settings."""
    found: Settings = request.app.state.settings
    return found


def signed_in(request: Request, connection: Db) -> Session:
    """Who is signed in. Raises SignInNeeded."""
    session = who(connection, request.cookies.get(COOKIE, ""))
    if session is None:
        raise SignInNeeded
    request.state.session = session
    return session


Who = Annotated[Session, Depends(signed_in)]


def writes(session: Who, x_csrf_token: Annotated[str, Header()] = "", csrf: Annotated[str, Form()] = "") -> Session:
    """Who writes, by form; the session's word must come along."""
    return _checked(session, x_csrf_token or csrf)


def writes_json(session: Who, x_csrf_token: Annotated[str, Header()] = "") -> Session:
    """Who writes, by script."""
    return _checked(session, x_csrf_token)


def _checked(session: Session, word: str) -> Session:
    if not secrets.compare_digest(word.encode(), session.csrf.encode()):
        raise HTTPException(403, "This page is too old to save from. Reload it and try again.")
    return session


Writer = Annotated[Session, Depends(writes)]
JsonWriter = Annotated[Session, Depends(writes_json)]


def let_in(request: Request, response: Response, key: Key) -> None:
    """Give the browser its cookie."""
    days = settings_of(request).session_days
    response.set_cookie(
        COOKIE,
        key.token,
        max_age=days * 86400,
        httponly=True,
        samesite="lax",
        secure=request.url.scheme == "https",
    )


def form_word(request: Request, response: Response) -> str:
    """The word that a form carries while nobody is signed in: it must match a cookie that only we can set."""
    word = request.cookies.get(FORM_COOKIE) or secrets.token_urlsafe(24)
    response.set_cookie(FORM_COOKIE, word, httponly=True, samesite="strict", secure=request.url.scheme == "https")
    return word


def check_form_word(request: Request, word: str) -> None:
    """Refuse a form whose word is not the cookie's."""
    cookie = request.cookies.get(FORM_COOKIE, "")
    if not cookie or not secrets.compare_digest(cookie.encode(), word.encode()):
        raise HTTPException(403, "This page is too old to save from. Reload it and try again.")
