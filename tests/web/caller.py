"""Calls the application in this process, one request at a time."""

from __future__ import annotations

import asyncio
from typing import Any

import httpx
from fastapi import FastAPI


class Caller:
    """Keeps cookies between calls, as a browser does."""

    def __init__(self, app: FastAPI, base_url: str = "http://127.0.0.1:8765") -> None:
        self._app = app
        self._base_url = base_url
        self.cookies = httpx.Cookies()

    def __call__(self, method: str, path: str, **options: Any) -> httpx.Response:
        async def send() -> httpx.Response:
            transport = httpx.ASGITransport(self._app)
            async with httpx.AsyncClient(transport=transport, base_url=self._base_url, cookies=self.cookies) as client:
                answer = await client.request(method, path, **options)
                self.cookies = client.cookies
                return answer

        return asyncio.run(send())
