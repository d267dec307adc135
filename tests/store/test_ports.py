"""Tests that run beside each other start servers of their own: none may be given the port of another."""

from __future__ import annotations

import socket
import subprocess
import sys

from tests.ports import OURS, free_port

ASK = "from tests.ports import free_port; print(*(free_port() for _ in range(200)), flush=True); input()"


def test_no_port_is_given_to_two_processes_that_ask_at_once() -> None:
    asking = [
        subprocess.Popen(
            [sys.executable, "-c", ASK], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True
        )
        for _ in range(4)
    ]
    given = [int(port) for process in asking for port in process.stdout.readline().split()]
    for process in asking:
        process.communicate("\n")
    assert len(given) == len(set(given)) == 800
    assert all(port in OURS for port in given)


def test_a_port_that_was_given_can_be_listened_on_and_again_after_its_server_ended() -> None:
    port = free_port()
    for _ in range(2):
        with socket.create_server(("127.0.0.1", port)), socket.create_connection(("127.0.0.1", port)) as call:
            assert call.getpeername() == ("127.0.0.1", port)
