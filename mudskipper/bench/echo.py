"""A web socket that sends back what it gets and computes nothing, in a process of its own: the least that any answer
of a server costs."""

from __future__ import annotations

import asyncio
import sys

import uvloop
from websockets.asyncio.server import ServerConnection, serve


async def echo(socket: ServerConnection) -> None:
    """Each message back, as it came."""
    async for message in socket:
        await socket.send(message)


async def main() -> None:
    """Serve on a free port of this machine, and print it."""
    async with serve(echo, "127.0.0.1", 0, compression=None) as server:
        print(next(iter(server.sockets)).getsockname()[1], flush=True)
        await asyncio.to_thread(sys.stdin.read)


if __name__ == "__main__":
    uvloop.run(main())
