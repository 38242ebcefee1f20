"""What lets a desktop know the program: menu entry, icon, file type, man page and completion, for one person alone.

They go into the person's XDG folders (XDG Base Directory, Desktop Entry and Shared MIME-info specifications,
freedesktop.org) and are taken out again by their names.
"""

import os
import re
import shutil
import subprocess
import sys
from contextlib import suppress
from importlib.resources import files
from pathlib import Path

from even_stance.errors import JobFileError
from even_stance.exchange.wholefile import reason, write_whole

PLACES = {
    "even-stance.desktop": "applications/even-stance.desktop",
    "even-stance.svg": "icons/hicolor/scalable/apps/even-stance.svg",
    "even-stance.xml": "mime/packages/even-stance.xml",
    "even-stance.metainfo.xml": "metainfo/org.evenstance.EvenStance.metainfo.xml",
    "even-stance.1": "man/man1/even-stance.1",
    "even-stance.bash": "bash-completion/completions/even-stance",
    "_even-stance": "zsh/site-functions/_even-stance",
}
"""Each file that is shipped, and where it belongs below a data folder such as ~/.local/share or /usr/share."""


def data_home() -> Path:
    """The person's own data folder."""
    named = os.environ.get("XDG_DATA_HOME", "")
    return Path(named) if named and Path(named).is_absolute() else Path.home() / ".local" / "share"


def shipped(name: str) -> bytes:
    """One of the files shipped."""
    return (files("even_stance") / "share" / name).read_bytes()


def command() -> str:
    """Return where the program is installed that is running: a menu knows no environment that was activated."""
    beside = Path(sys.executable).with_name("even-stance")
    found = str(beside) if beside.exists() else shutil.which("even-stance") or str(beside)
    return str(Path(found).absolute())


def exec_word(path: str) -> str:
    """Return a path as the Exec line of a menu entry wants it.

    In quotation marks, where a backslash is put before marks that a shell would read; then every backslash is doubled,
    for the file reads them itself; so is a percent sign (Desktop Entry Specification 1.5, "The Exec key" and "Possible
    value types").
    """
    quoted = re.sub(r'(["`$\\])', r"\\\1", path)
    return '"' + quoted.replace("\\", "\\\\").replace("%", "%%") + '"'


def install(folder: Path | None = None) -> list[Path]:
    """Put all of it in its places; which files were written.

    Raises:
        JobFileError: one cannot be written.
    """
    folder, written = folder or data_home(), []
    for name, place in PLACES.items():
        raw = shipped(name)
        if name.endswith(".desktop"):
            raw = raw.replace(b"Exec=even-stance", f"Exec={exec_word(command())}".encode(errors="surrogateescape"))
        path = folder / place
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
        except OSError as error:
            raise JobFileError(f"{path.parent} cannot be made: {reason(error)}.") from None
        write_whole(path, raw)
        written.append(path)
    _refresh(folder)
    return written


def remove(folder: Path | None = None) -> list[Path]:
    """Take out again what install() put there; which files went.

    Raises:
        JobFileError: one cannot be removed.
    """
    folder, gone = folder or data_home(), []
    for place in PLACES.values():
        path = folder / place
        try:
            path.unlink()
        except FileNotFoundError:
            continue
        except OSError as error:
            raise JobFileError(f"{path} cannot be removed: {reason(error)}.") from None
        gone.append(path)
        with suppress(OSError):  # folders that were made for it, and hold nothing else
            for parent in path.parents:
                if parent == folder:
                    break
                parent.rmdir()
    _refresh(folder)
    # What was made of these files goes with the last of them.
    for made, of in (("mime", "mime/packages/*.xml"), ("applications", "applications/*.desktop")):
        if (folder / made).is_dir() and not any(folder.glob(of)):
            for left in (folder / made).iterdir() if made == "mime" else [folder / made / "mimeinfo.cache"]:
                if left.is_dir():
                    shutil.rmtree(left, ignore_errors=True)
                else:
                    left.unlink(missing_ok=True)
            with suppress(OSError):
                (folder / made).rmdir()
    return gone


def _refresh(folder: Path) -> None:
    """Let the desktop look again, where it has the programs for that."""
    for program, where in (("update-mime-database", "mime"), ("update-desktop-database", "applications")):
        if (found := shutil.which(program)) and (folder / where).is_dir():
            subprocess.run([found, str(folder / where)], check=False, capture_output=True)
