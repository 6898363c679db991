"""One serving process: it answers until it is told to leave, or has grown too large, and leaves nobody unanswered."""

from __future__ import annotations

import logging
import os
import signal
import socket
import time
from collections.abc import Callable
from typing import Any

from django.conf import settings
from django.core.management import CommandError
from waitress.server import create_server

from shell.warm import between, collect_between_answers, now_mb

#: open connections of one process, and how long one may lie idle, such as a sender who stops half way [s]
MOST_CONNECTIONS, IDLE_S = 1000, 20
#: threads of one process; the work is arithmetic, so that more would only wait for each other
THREADS = 4
#: largest request that is read at all; pages refuse smaller ones in their own words [bytes]
MOST_READ_BYTES = 128 * 1024 * 1024
#: a process that holds more than this between two answers gives its place to a fresh one [MB]
MOST_MB, LEAST_MB = 700, 250
#: who leaves waits so long for what is under way, and for a next request on a connection that is kept [s]
LEAVE_S, LINGER_S = 20.0, 1.0

log = logging.getLogger(__name__)


def most_mb() -> int:
    """Memory at which a serving process gives way: ``TALLY_PROCESS_MB``, else 700 [MB].

    Raises
    ------
    CommandError : it is no whole number from 250 on
    """
    given = os.environ.get("TALLY_PROCESS_MB", "")
    if not given:
        return MOST_MB
    if not given.isdecimal() or len(given) > 6 or int(given) < LEAST_MB:
        raise CommandError(f"TALLY_PROCESS_MB is {given!r}; accepted: {LEAST_MB} or more.")
    return int(given)


class Worker:
    """Answers on a socket that it shares with others of its kind; ``gives_way`` is called where it has grown too large."""

    def __init__(self, listener: socket.socket, most_mb: int, gives_way: Callable[[], None]) -> None:
        from rimtally.wsgi import application

        self.most_mb, self.gives_way = most_mb, gives_way
        self.leaving, self.linger_s = False, LINGER_S
        proxy = settings.TRUSTED_PROXY
        trusted = {
            "trusted_proxy": proxy,
            "trusted_proxy_count": 1,
            "trusted_proxy_headers": {"x-forwarded-for", "x-forwarded-proto"},
        }
        self.server: Any = create_server(
            application,
            sockets=[listener],
            threads=THREADS,
            ident=None,
            connection_limit=MOST_CONNECTIONS,
            channel_timeout=IDLE_S,
            cleanup_interval=5,
            max_request_body_size=MOST_READ_BYTES,
            asyncore_use_poll=True,
            clear_untrusted_proxy_headers=True,
            **(trusted if proxy else {}),
        )

    def serve(self) -> None:
        """Answer until told to leave, or grown too large; then finish what is under way."""
        for name in (signal.SIGTERM, signal.SIGINT):
            signal.signal(name, self._told)
        between.afterwards = self._look_at_size
        collect_between_answers()
        while not self.leaving:
            self._turn(1.0)
        # The others of its kind take what comes from now on.
        self.server.del_channel()
        until = time.monotonic() + LEAVE_S
        while self.server.active_channels and time.monotonic() < until:
            self._close_idle()
            self._turn(0.05)

    def _turn(self, timeout_s: float) -> None:
        self.server.asyncore.loop(timeout=timeout_s, map=self.server._map, use_poll=True, count=1)

    def _close_idle(self) -> None:
        """Connections without a request under way, and without one for a moment, are closed."""
        before = time.time() - self.linger_s
        for channel in list(self.server.active_channels.values()):
            busy = channel.requests or channel.total_outbufs_len
            half_read = channel.request is not None and self.linger_s > 0.0
            if not busy and not half_read and channel.last_activity < before:
                channel.will_close = True

    def _told(self, *_: Any) -> None:
        self.leaving, self.linger_s = True, 0.0

    def _look_at_size(self) -> None:
        size_mb = now_mb()
        if size_mb > self.most_mb and not self.leaving:
            log.info("a process gives way", extra={"mb": round(size_mb)})
            self.leaving = True
            self.gives_way()
            self.server.pull_trigger()
