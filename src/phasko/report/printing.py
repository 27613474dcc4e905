"""Pages as PDF and as a picture. The library that sets them needs one of the system's; where that is missing, the HTML
still comes, and one line says what to install."""

from __future__ import annotations

import io
import logging
from typing import Any

from PIL import ImageFile

from phasko.core.errors import RefusedError

__all__ = ["pdf_of", "png_of"]

_REMEDY = "Install it (Debian: apt install libpango-1.0-0 libpangoft2-1.0-0 libharfbuzz-subset0), or take the HTML."
_PNG_WIDE_PX = 1500


def pdf_of(html: str) -> bytes:
    """The pages as PDF, fonts inside. Raises RefusedError where the system's library is missing."""
    printer = _printer()
    # What stands in the page itself, and nothing from any disk or network.
    inside = printer.URLFetcher(allowed_protocols=("data",))
    made: bytes = printer.HTML(string=html, url_fetcher=inside).write_pdf()
    return made


def png_of(html: str) -> bytes:
    """The first page as a picture for a message, in grey. Raises RefusedError as ``pdf_of``."""
    pdf = pdf_of(html)
    import pypdfium2

    with pypdfium2.PdfDocument(pdf) as document:
        page = document[0]
        picture = page.render(scale=_PNG_WIDE_PX / page.get_width(), grayscale=True).to_pil()
        page.close()
    sink = io.BytesIO()
    picture.save(sink, format="PNG", optimize=True)
    return sink.getvalue()


def _printer() -> Any:
    # Loaded only when something is printed: it takes a quarter of a second, and its system library may be missing.
    try:
        import weasyprint
    except (ImportError, OSError) as error:
        raise RefusedError(
            "No PDF or picture can be made here: the library that sets text (Pango) is missing",
            kept="The hand-over is there as HTML",
            remedy=_REMEDY,
        ) from error
    # It lets pictures that were cut off pass, for the whole program; photos that come in are to be refused then.
    ImageFile.LOAD_TRUNCATED_IMAGES = False
    logging.getLogger("weasyprint").setLevel(logging.ERROR)
    logging.getLogger("fontTools").setLevel(logging.ERROR)
    return weasyprint
