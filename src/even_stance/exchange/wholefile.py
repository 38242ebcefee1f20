"""Files written whole or not at all: aside first, flushed to disk, then put in the place of the old one."""

import errno
import os
import stat
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path

from even_stance.errors import JobFileError

_STALE_S = 60.0
_LOCK_S = 3.0
PRIVATE, PRIVATE_FOLDER = 0o600, 0o700


def reason(error: OSError) -> str:
    """Why the system refused, in plain words."""
    return {
        errno.EACCES: "you may not write or read there",
        errno.EPERM: "you may not write or read there",
        errno.ENOSPC: "the disk is full",
        errno.EROFS: "the disk is read-only",
        errno.ENOENT: "the folder is not there",
        errno.EISDIR: "it is a folder",
    }.get(error.errno or 0, error.strerror or "the system refused")


def read_whole(path: Path, largest: int, what: str) -> bytes:
    """All of a file that people made.

    Raises:
        JobFileError: not there, a folder, no plain file (a pipe, a device), too large, or refused by the system.
    """
    try:
        # A pipe that nobody writes to must not be waited for.
        handle = os.open(path, os.O_RDONLY | os.O_NONBLOCK)
    except FileNotFoundError:
        raise JobFileError(f"{path} is not there.") from None
    except OSError as error:
        raise JobFileError(f"{path.name} cannot be read: {reason(error)}.") from None
    found = os.fstat(handle)
    if not stat.S_ISREG(found.st_mode):
        os.close(handle)
        if stat.S_ISDIR(found.st_mode):
            raise JobFileError(f"{path} is a folder, not {what}.")
        raise JobFileError(f"{path.name} is no plain file but a pipe or a device: not {what}.")
    with os.fdopen(handle, "rb") as file:
        try:
            raw = file.read(largest + 1)
        except OSError as error:
            raise JobFileError(f"{path.name} cannot be read: {reason(error)}.") from None
    if len(raw) > largest:
        size = max(found.st_size, len(raw)) / 1e6
        raise JobFileError(f"{path.name} is {size:.0f} MB: too large for {what} ({largest / 1e6:.0f} MB at most).")
    return raw


def write_whole(path: Path, raw: bytes, mode: int | None = None) -> None:
    """Put bytes in a file, which is there whole or as it was: through a link, the file it leads to.

    Args:
        path: the file.
        raw: what it holds.
        mode: its permissions; those it has, or the usual ones, when not given.

    Raises:
        JobFileError: it could not be written; nothing was changed.
    """
    target = real_path(path)
    try:
        if target.exists() and not target.is_file():
            raise JobFileError(f"{path.name} could not be written: it is no plain file.")
        aside = written_aside(target, raw, mode)
    except OSError as error:
        raise _unwritten(path, error) from None
    try:
        aside.replace(target)
        flush_folder(target.parent)
    except OSError as error:
        with suppress(OSError):
            aside.unlink()
        raise _unwritten(path, error) from None


def _unwritten(path: Path, error: OSError) -> JobFileError:
    """A failure to write a file, in our words."""
    return (
        error
        if isinstance(error, JobFileError)
        else JobFileError(f"{path.name} could not be written: {reason(error)}.")
    )


def real_path(path: Path) -> Path:
    """Where a path leads, links followed."""
    try:
        return path.resolve()
    except (OSError, RuntimeError):
        return path


def written_aside(path: Path, raw: bytes, mode: int | None = None) -> Path:
    """A file beside another, flushed to disk, ready to take its place.

    Raises:
        OSError: it cannot be written; nothing is left behind.
    """
    handle, name = tempfile.mkstemp(prefix=f".{path.name}.", suffix=".part", dir=path.parent)
    temporary = Path(name)
    try:
        with os.fdopen(handle, "wb") as file:
            file.write(raw)
            file.flush()
            os.fsync(file.fileno())
        if mode is None:
            # A private temporary file must not make a shared file private.
            mode = path.stat().st_mode & 0o777 if path.exists() else 0o666 & ~_umask()
        temporary.chmod(mode)
        if path.exists():
            _belong_alike(path, temporary)
    except OSError:
        with suppress(OSError):
            temporary.unlink()
        raise
    return temporary


def _belong_alike(old: Path, new: Path) -> None:
    """Give a file the owner, group and extended attributes of the one it replaces, as far as the system lets us."""
    was, now = old.stat(), new.stat()
    if (was.st_uid, was.st_gid) != (now.st_uid, now.st_gid):
        with suppress(OSError):
            os.chown(new, was.st_uid, was.st_gid)
            new.chmod(now.st_mode & 0o777)  # a change of owner may take permissions away
    with suppress(OSError):
        for name in os.listxattr(old):
            with suppress(OSError):
                os.setxattr(new, name, os.getxattr(old, name))


def _umask() -> int:
    mask = os.umask(0)
    os.umask(mask)
    return mask


def flush_folder(folder: Path) -> None:
    """Bring the names in a folder to disk, where its file system can."""
    with suppress(OSError):
        handle = os.open(folder, os.O_RDONLY)
        try:
            os.fsync(handle)
        finally:
            os.close(handle)


@contextmanager
def one_writer(folder: Path) -> Iterator[None]:
    """Let one window at a time look at and replace files of a folder; where folders cannot be locked, all may."""
    try:
        import fcntl  # noqa: PLC0415 - not on every system

        handle = os.open(folder, os.O_RDONLY)
    except (ImportError, OSError):
        yield
        return
    try:
        until = time.monotonic() + _LOCK_S
        while time.monotonic() < until:
            try:
                fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
                break
            except BlockingIOError:
                time.sleep(0.01)
            except OSError:
                break
        yield
    finally:
        os.close(handle)


def clear_leftovers(folder: Path, name: str = "") -> None:
    """Take away what writers that were killed left behind, of one file or of all in a folder, once it is stale."""
    with suppress(OSError):
        for left in folder.glob(f".{name or '*'}.*.part"):
            with suppress(OSError):
                if time.time() - left.stat().st_mtime > _STALE_S:
                    left.unlink()
