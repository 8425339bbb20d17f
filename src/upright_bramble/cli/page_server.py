"""One page about one beam, served to this machine alone: only 127.0.0.1 is listened on, and only calls that
name it are answered."""

from __future__ import annotations

import contextlib
import json
import threading
from collections.abc import Iterator, Sequence
from http import HTTPStatus
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import TYPE_CHECKING, Any

from upright_bramble.cli.output import Call

if TYPE_CHECKING:
    from upright_bramble.files.result_file import ResultFile

HOST = "127.0.0.1"


class Page:
    """What the page shows: a number that grows with each change, and the parts of the page as HTML."""

    def __init__(self) -> None:
        self.lock = threading.Lock()
        self.number = 0
        self.parts: dict[str, str] = {"result": "", "fault": "", "suggestions": ""}
        self.address = ""

    @classmethod
    @contextlib.contextmanager
    def serving(cls, port: int) -> Iterator[Page]:
        """Serve until it is left. Raises Call where the port is taken."""
        page = cls()
        try:
            server = ThreadingHTTPServer((HOST, port), _handler(page))
        except OSError as error:
            raise Call(f"--port {port}: cannot be served: {error.strerror or error}") from None
        server.daemon_threads = True
        page.address = f"http://{HOST}:{server.server_port}/"
        thread = threading.Thread(target=server.serve_forever, kwargs={"poll_interval": 0.1}, daemon=True)
        thread.start()
        try:
            yield page
        finally:
            server.shutdown()
            server.server_close()
            thread.join()

    def show(self, result: ResultFile, before: ResultFile | None, how: str) -> None:
        """A new result, with what changed since the one before."""
        from upright_bramble.present.saved import page_part

        part = page_part(result, before, how)
        with self.lock:
            self.number += 1
            self.parts = {"result": part, "fault": "", "suggestions": ""}

    def show_fault(self, text: str) -> None:
        """What is wrong with the files as they are; the last result stays below it."""
        from upright_bramble.present.pages import page

        part = page("watch_fault.html.j2", lines=text.splitlines())
        with self.lock:
            self.number += 1
            self.parts["fault"] = part

    def show_suggestions(self, units: str, suggestions: Sequence[str]) -> None:
        from upright_bramble.core.quantities import SYSTEMS, worded
        from upright_bramble.present.pages import page

        part = page("watch_suggestions.html.j2", lines=[worded(text, SYSTEMS[units]) for text in suggestions])
        with self.lock:
            self.number += 1
            self.parts["suggestions"] = part

    def state(self, seen: int) -> dict[str, Any]:
        """What is new since a number; nothing but the number where nothing is."""
        with self.lock:
            return {"number": self.number, **(self.parts if seen != self.number else {})}


def _handler(page: Page) -> type[BaseHTTPRequestHandler]:
    class Handler(BaseHTTPRequestHandler):
        server_version, sys_version = "upright-bramble", ""

        def do_GET(self) -> None:
            hosts = {f"{name}:{self.server.server_port}" for name in (HOST, "localhost")}  # type: ignore[attr-defined]
            if (
                self.headers.get("Host", "") not in hosts
            ):  # a foreign page that has its name lead here learns nothing
                self._answer(HTTPStatus.FORBIDDEN, "text/plain", b"only for this machine")
                return
            path, _, query = self.path.partition("?")
            if path == "/":
                from upright_bramble.present.pages import page as filled

                self._answer(HTTPStatus.OK, "text/html; charset=utf-8", filled("watch.html.j2").encode())
            elif path == "/state":
                seen = query.removeprefix("seen=")
                data = page.state(int(seen) if seen.isascii() and seen.isdigit() and len(seen) < 10 else -1)
                self._answer(HTTPStatus.OK, "application/json", json.dumps(data).encode())
            else:
                self._answer(HTTPStatus.NOT_FOUND, "text/plain", b"there is nothing here")

        def _answer(self, status: HTTPStatus, kind: str, data: bytes) -> None:
            self.send_response(status)
            policy = (
                "default-src 'none'; style-src 'unsafe-inline'; script-src 'unsafe-inline'; img-src data:; "
                "connect-src 'self'"
            )
            heads = {
                "Content-Type": kind,
                "Content-Length": str(len(data)),
                "Cache-Control": "no-store",
                "Referrer-Policy": "no-referrer",
            }
            heads |= {
                "X-Content-Type-Options": "nosniff",
                "Content-Security-Policy": policy,
                "X-Frame-Options": "DENY",
            }
            for name, value in heads.items():
                self.send_header(name, value)
            self.end_headers()
            with contextlib.suppress(OSError):
                self.wfile.write(data)

        def log_message(self, format: str, *args: Any) -> None:
            pass

    return Handler
