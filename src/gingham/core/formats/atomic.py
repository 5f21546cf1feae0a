"""Writing a file all or nothing: a new file beside it, then one rename.

A symlink stays one (its target changes), a file keeps its mode, and where a file has several names (hard
links) they all see the new text. That last case cannot be one rename: the new text lies whole on disk beside
the file while the old one is overwritten, and `whole_copy` finds it after a kill in between.
"""

from __future__ import annotations

import errno
import os
import stat
from contextlib import suppress
from pathlib import Path

from gingham.core.errors import FileError
from gingham.core.programs import is_running, program_id

_PREFIX, _PART, _WHOLE = ".gingham-", ".part", ".whole"
_REASONS = {
    errno.ENOSPC: "why-full",
    errno.EDQUOT: "why-full",
    errno.EROFS: "why-read-only",
    errno.ENOTDIR: "why-parent",
    errno.ENOENT: "why-no-folder",
    errno.EACCES: "why-denied",
    errno.EPERM: "why-denied",
    errno.ENAMETOOLONG: "why-long",
    errno.EISDIR: "why-folder",
    errno.EIO: "why-disk",
}


def why_not(error: OSError | ValueError) -> object:
    """The reason of a fault of the system: a FileError with words where it is a common one."""
    code = _REASONS.get(error.errno or 0) if isinstance(error, OSError) else "why-name"
    if code is not None:
        return FileError(code)
    return (error.strerror if isinstance(error, OSError) else None) or str(error)


def read_bytes(path: Path, most_mb: int) -> bytes:
    """The bytes of a plain file; FileError if it is missing, too large, or cannot be read."""
    try:
        found = Path(path).stat()
        if not stat.S_ISREG(found.st_mode):  # a pipe would never end
            raise FileError("file-open", path=str(path), why=FileError("why-no-file"))
        if found.st_size > most_mb * 1_000_000:
            raise FileError("file-large", path=str(path), most=most_mb)
        return Path(path).read_bytes()
    except FileNotFoundError as error:
        raise FileError("file-missing", path=str(path)) from error
    except (OSError, ValueError) as error:
        raise FileError("file-open", path=str(path), why=why_not(error)) from error


def write_atomically(path: Path, data: bytes, *, over_protected: bool = False) -> None:
    """Write `data` to `path`; whatever was there stays until the new bytes are safely on disk.

    `over_protected` writes over a file that may not be written, for a player who has been asked.

    Raises
    ------
    FileError
        `file-protected` for a write-protected file, else `file-write` with the reason; nothing half-written
        is left behind.
    """
    try:
        target = Path(os.path.realpath(path))
        known = _known(target)
        if known is not None and not over_protected and not _may_write(target, known):
            raise FileError("file-protected", path=str(path))
        _replace(target, data, known)
    except (OSError, ValueError) as error:  # ValueError: a name that no file can have
        raise FileError("file-write", path=str(path), why=why_not(error)) from error


def whole_copy(path: Path) -> bytes | None:
    """The text that was being written into a file of several names when the program was killed."""
    with suppress(OSError, ValueError):
        target = Path(os.path.realpath(path))
        found = sorted(target.parent.glob(f"{_stem(target)}*{_WHOLE}"), key=lambda each: each.stat().st_mtime)
        return found[-1].read_bytes() if found else None
    return None


def clear_parts(folder: Path) -> int:
    """Take away what programs that have ended left half-written in a folder; how many files went."""
    gone = 0
    with suppress(OSError):
        for path in folder.glob(f"{_PREFIX}*{_PART}"):
            writer = path.name.removeprefix(_PREFIX).split("-")[1:3]
            if len(writer) == 2 and not is_running(":".join(writer)):
                with suppress(OSError):
                    path.unlink()
                    gone += 1
    return gone


def _known(target: Path) -> os.stat_result | None:
    """The file that is there; OSError if something else is."""
    try:
        found = target.stat()
    except FileNotFoundError:
        return None
    if stat.S_ISDIR(found.st_mode):
        raise IsADirectoryError(errno.EISDIR, os.strerror(errno.EISDIR))
    if not stat.S_ISREG(found.st_mode):
        raise OSError(errno.EINVAL, "it is a device, not a file")
    return found


def _may_write(target: Path, known: os.stat_result) -> bool:
    """Whether the file says so itself: root may write everything, and is asked all the same."""
    return bool(known.st_mode & 0o222) and os.access(target, os.W_OK)


def _replace(target: Path, data: bytes, known: os.stat_result | None) -> None:
    shared = known is not None and known.st_nlink > 1
    beside = target.with_name(_beside(target, _WHOLE if shared else _PART))
    try:
        _write_new(beside, data, known)
        if shared:
            _overwrite(target, data)
            _clear_whole(target)
        else:
            beside.replace(target)
    except BaseException:
        if not shared:  # the whole text of a shared file may be all there is
            with suppress(OSError):  # whatever goes wrong now must not hide what went wrong first
                beside.unlink(missing_ok=True)
        raise
    _sync_folder(target.parent)


def _write_new(path: Path, data: bytes, like: os.stat_result | None) -> None:
    """A new file with these bytes, safely on disk, owned and protected like another one."""
    descriptor = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_CLOEXEC, 0o666)
    with os.fdopen(descriptor, "wb") as file:
        if like is not None:
            with suppress(OSError):  # another owner's file becomes ours: better than not saved
                os.fchown(descriptor, like.st_uid, like.st_gid)
            with suppress(OSError):  # some file systems know no modes
                os.fchmod(descriptor, stat.S_IMODE(like.st_mode))
        file.write(data)
        file.flush()
        os.fsync(descriptor)


def _overwrite(target: Path, data: bytes) -> None:
    """The bytes into the same file, so that all its names see them."""
    descriptor = os.open(target, os.O_WRONLY | os.O_CLOEXEC)
    with os.fdopen(descriptor, "wb") as file:
        file.write(data)
        file.truncate(len(data))
        file.flush()
        os.fsync(descriptor)


def _clear_whole(target: Path) -> None:
    for path in target.parent.glob(f"{_stem(target)}*{_WHOLE}"):
        with suppress(OSError):
            path.unlink()


def _stem(target: Path) -> str:
    """Short whatever the name is: a name may use all of its 255 bytes."""
    import hashlib  # loads OpenSSL: not before a file is written

    return f"{_PREFIX}{hashlib.sha256(os.fsencode(target.name)).hexdigest()[:12]}-"


def _beside(target: Path, suffix: str) -> str:
    writer = program_id().replace(":", "-")
    return f"{_stem(target)}{writer}-{os.urandom(4).hex()}{suffix}"


def _sync_folder(folder: Path) -> None:
    """The rename itself safely on disk, where the file system can promise that."""
    with suppress(OSError):
        descriptor = os.open(folder, os.O_RDONLY | os.O_DIRECTORY | os.O_CLOEXEC)
        try:
            os.fsync(descriptor)
        finally:
            os.close(descriptor)
