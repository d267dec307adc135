"""Started by root, Nundine steps down to an account of its own, which can write nothing but its data."""

from __future__ import annotations

import os
import pwd
import shutil
import subprocess
import sys
from pathlib import Path

from nundine.local.errors import CannotStart
from nundine.local.only_one import alone, say
from nundine.settings import ROOT, Settings

ACCOUNT = "nundine"
NOT_ITS_OWN = ("venv", "engine-compiled")
"""What root made below var and runs: the account may read it, and must not be able to exchange it."""
STICKY = 0o1775
"""Anybody of the group may add to the folder, and take away only what is their own."""
REACH = "import os, sys, nundine.settings; sys.exit(not os.access(sys.argv[1], os.R_OK | os.W_OK | os.X_OK))"


def step_down(settings: Settings) -> None:
    """Go on as the account, made if it is missing; it gets the data. Does nothing unless root started us.

    Where the account can not reach Python, the project or the data, that is said, and root it stays.
    """
    if os.geteuid() != 0:
        return
    account = _account()
    if account is None:
        say(f"There is no account {ACCOUNT} and no useradd to make it: Nundine runs as root.")
        return
    settings.var.mkdir(parents=True, exist_ok=True)
    try:
        with alone(settings):  # what root left running, root alone can end
            _give(settings.var, account)
            reaches = _reaches(account, settings.var)
            if not reaches:
                _give(settings.var, pwd.getpwuid(0))
    except (
        CannotStart
    ):  # another Nundine has the folder, and gave it away; whoever needs it alone is told so later
        reaches = _reaches(account, settings.var)
    if not reaches:
        say(
            f"The account {ACCOUNT} can not reach {sys.executable}, {ROOT} or {settings.var}: "
            "Nundine runs as root. "
            "Put all of them where others may read, or start Nundine as somebody else."
        )
        return
    os.setgroups([])
    os.setgid(account.pw_gid)
    os.setuid(account.pw_uid)
    os.environ.update(HOME=str(settings.var), USER=ACCOUNT, LOGNAME=ACCOUNT)
    _take_engine(settings.var)


def _take_engine(var: Path) -> None:
    """The compiled engine, which root keeps beside the source, into the account's own cache: it is read only
    from where its reader may write (`core/week/compiling.py`)."""
    for compiled in (ROOT / "src").rglob("__pycache__/engine-*"):
        into = var / ".cache" / "nundine" / compiled.name
        if not into.is_dir():
            shutil.copytree(compiled, into)


def _account() -> pwd.struct_passwd | None:
    try:
        return pwd.getpwnam(ACCOUNT)
    except KeyError:
        pass
    program = shutil.which("useradd", path="/usr/sbin:/sbin:/usr/bin")
    if program is None:
        return None
    command = [
        program,
        "--system",
        "--user-group",
        "--no-create-home",
        "--shell",
        "/usr/sbin/nologin",
        ACCOUNT,
    ]
    subprocess.run(command, capture_output=True)
    try:
        return pwd.getpwnam(ACCOUNT)
    except KeyError:
        return None


def _give(var: Path, account: pwd.struct_passwd) -> None:
    """All data below the folder to the account; the folder itself stays root's, for it may hold programs."""
    os.chown(var, 0, account.pw_gid)
    var.chmod(STICKY)
    for entry in var.iterdir():
        if entry.name in NOT_ITS_OWN or entry.lstat().st_uid == account.pw_uid:
            continue
        os.lchown(entry, account.pw_uid, account.pw_gid)
        if entry.is_dir() and not entry.is_symlink():
            for folder, folders, files in os.walk(entry):
                for name in (*folders, *files):
                    os.lchown(os.path.join(folder, name), account.pw_uid, account.pw_gid)


def _reaches(account: pwd.struct_passwd, var: Path) -> bool:
    try:
        tried = subprocess.run(
            [sys.executable, "-c", REACH, str(var)],
            user=account.pw_uid,
            group=account.pw_gid,
            extra_groups=[],
            capture_output=True,
            cwd="/",
        )
    except OSError:
        return False
    return tried.returncode == 0
