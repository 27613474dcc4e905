"""A copy of the workshop's file while it is in use, and a copy put back in its place."""

from __future__ import annotations

from pathlib import Path

from phasko.core.errors import NotFoundError, StorageError
from phasko.keeping.checking import check_file
from phasko.store.database import FILE_NAME
from phasko.store.one_server import folder_taken
from phasko.store.upgrading import backup_name, copy_of_file, layout_of, newest_layout, put_in_place

__all__ = ["back_up", "restore"]


def back_up(folder: Path, target: Path) -> Path:
    """Writes a whole copy of the folder's workshop to ``target`` and reads it again; the server may be running.

    Raises NotFoundError where the folder holds no workshop, StorageError where the copy cannot be written, is there
    already, or is not whole.
    """
    source = folder / FILE_NAME
    if not source.is_file():
        raise NotFoundError("There is no workshop in this folder", remedy=f"Give the folder with {FILE_NAME}.")
    if target.exists():
        raise StorageError("is there already", place=target.name, kept="It is as it was", remedy="Give another name.")
    copy_of_file(source, target)
    _whole(target)
    return target


def restore(folder: Path, copy: Path) -> Path | None:
    """Puts a copy in the place of the folder's workshop, with the server stopped. What stood there before is kept
    beside the other backups; its path, or ``None`` where there was none.

    Raises NotFoundError without such a copy, StorageError for one that is not whole or of a newer version, and
    ConflictError while a server runs; the workshop is then as it was.
    """
    if not copy.is_file():
        raise NotFoundError(f"There is no file {copy.name}")
    with folder_taken(folder, "restores a backup"):
        layout = layout_of(copy)
        if layout is None or layout > newest_layout():
            raise StorageError(
                "is no workshop's file that this version can open", place=copy.name, kept="The workshop is as it was"
            )
        _whole(copy)
        path = folder / FILE_NAME
        kept = None
        if path.exists():
            kept = backup_name(folder, "before-restore")
            copy_of_file(path, kept)
        arriving = path.with_name(f"{path.name}.restore")
        copy_of_file(copy, arriving)
        _whole(arriving)
        put_in_place(arriving, path)
        return kept


def _whole(path: Path) -> None:
    wrong = check_file(path)
    if wrong:
        raise StorageError(f"is not whole: {wrong[0].words}", place=path.name, kept="The workshop is as it was")
