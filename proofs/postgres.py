"""A PostgreSQL server of one's own, from Debian's package, in a scratch folder, for as long as a command runs.

    python -m proofs.postgres COMMAND …

The command finds it in ``TALLY_DATABASE``. No other server is touched: it listens on a socket in its folder alone,
nothing of it is synced to the disk, and the folder goes with it.
"""

from __future__ import annotations

import os
import pwd
import shutil
import signal
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from urllib.parse import quote

#: where Debian lays the programs of each version
DEBIAN = Path("/usr/lib/postgresql")
#: nothing of a scratch server has to outlive it
QUICK = ("fsync=off", "full_page_writes=off", "synchronous_commit=off", "max_connections=200", "listen_addresses=")
#: whoever runs the server where root may not
ACCOUNT = "postgres"


class NoServer(Exception):
    """There is none to start; says what to install."""


def programs() -> Path:
    """The folder with ``initdb`` and ``pg_ctl``, of the newest version there is.

    Raises
    ------
    NoServer : there is none
    """
    on_path = shutil.which("initdb")
    if on_path:
        return Path(on_path).resolve().parent
    versions = [path for path in DEBIAN.glob("*/bin") if (path / "initdb").exists()]
    if not versions:
        raise NoServer("PostgreSQL is not on this machine. Debian: apt-get install postgresql.")
    return max(versions, key=lambda path: float(path.parent.name))


@contextmanager
def server() -> Iterator[str]:
    """A server in a scratch folder; gives the address of its database.

    Raises
    ------
    NoServer : there is none to start
    """
    folder = Path(tempfile.mkdtemp(prefix="tally-pg-"))
    account = ACCOUNT if os.geteuid() == 0 else None
    if account:
        who = pwd.getpwnam(account)
        os.chown(folder, who.pw_uid, who.pw_gid)
    bin_folder = programs()

    def run(name: str, words: list[str]) -> None:
        subprocess.run(  # noqa: S603  programs of the server itself
            [str(bin_folder / name), "-D", str(folder / "data"), *words],
            check=True,
            user=account,
            cwd=folder,
            stdout=subprocess.DEVNULL,
            stderr=sys.stderr,
        )

    options = " ".join(f"-c {one}" for one in (*QUICK, f"unix_socket_directories={folder}"))
    try:
        run("initdb", ["-U", "tally", "--auth=trust", "--encoding=UTF8", "--locale=C.UTF-8", "--no-sync"])
        run("pg_ctl", ["-l", str(folder / "log"), "-w", "-o", options, "start"])
        try:
            yield f"postgresql://tally@{quote(str(folder), safe='')}/postgres"
        finally:
            run("pg_ctl", ["-m", "immediate", "stop"])
    finally:
        shutil.rmtree(folder, ignore_errors=True)


def main(command: list[str]) -> int:
    """Run the command beside a server; its code is ours."""
    # Told to end, the server goes as well.
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(143))
    try:
        with server() as address:
            told = {**os.environ, "TALLY_DATABASE": address}
            return subprocess.run(command, env=told, check=False).returncode  # noqa: S603  whoever starts it says it
    except (NoServer, KeyError) as error:
        sys.stderr.write(f"{error}\n")
        return 1


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
