"""Changes as server-sent events: what a colleague stores moves every screen at once."""

from __future__ import annotations

from collections.abc import AsyncIterator
from typing import Annotated

from fastapi import APIRouter, Header, Query, Request
from fastapi.responses import StreamingResponse

from phasko.web.guard import account_of
from phasko.web.live import Change, Live

router = APIRouter(prefix="/api", tags=["listening"])

_HEARTBEAT_S = 4.0
"""So often something is sent, so that whoever has gone is noticed, and whoever was signed out is told."""
_AGAIN_MS = 1000
"""So long a browser waits before it asks again once the stream broke off."""
_MOST_ENTRY = 2**62


@router.get(
    "/changes",
    response_class=StreamingResponse,
    responses={200: {"model": Change, "description": "Events named changed, each with a Change (JSON) as its data"}},
)
async def listen(
    request: Request,
    since: Annotated[int | None, Query(ge=0, le=_MOST_ENTRY, description="The last entry that was heard of")] = None,
    last_event_id: Annotated[str | None, Header(max_length=30)] = None,
) -> StreamingResponse:
    """A stream of what is changed from now on, or since an entry; it ends with the session."""
    again = last_event_id if last_event_id is not None and last_event_id.isascii() and last_event_id.isdigit() else None
    return StreamingResponse(
        _events(request, since if again is None else min(int(again), _MOST_ENTRY)), media_type="text/event-stream"
    )


async def _events(request: Request, since: int | None) -> AsyncIterator[str]:
    live: Live = request.app.state.live
    yield f"retry: {_AGAIN_MS}\n\n"
    async for change in live.changes(since, _HEARTBEAT_S):
        if account_of(request.app.state.door, request) is None:
            return
        if change is None:
            yield ": still here\n\n"
        else:
            yield f"id: {change.entry}\nevent: changed\ndata: {change.model_dump_json()}\n\n"
