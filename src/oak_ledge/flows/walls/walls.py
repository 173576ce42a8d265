"""The walls around a process that reads one foreign file: limits on memory and time, no folder, no network.

What the kernel or a package can't do here is named, so that it can be said; what stands is put up all
the same. Landlock (kernel 5.13) shuts folders, seccomp filters calls, both for good and for all threads.
"""

from __future__ import annotations

import errno
import os
import resource
import signal
import sys
from pathlib import Path

# Bytes of address space beyond what the process has at its start.
MEMORY = 3_000_000_000

# Of one core; and twice as many by the clock.
SECONDS = 120

# Folders a decoder may look into: its own code, what the system links with it, how many cores there are.
_CODE = (
    sys.prefix, sys.base_prefix, "/usr", "/lib", "/lib64", "/etc/ld.so.cache",
    "/sys/devices/system/cpu", "/proc/self", "/proc/meminfo", "/proc/cpuinfo", "/dev/null", "/dev/urandom",
)  # fmt: skip

_DENIED = (
    "socket", "socketpair", "connect", "bind", "listen", "accept", "accept4",
    "execve", "execveat", "fork", "vfork", "ptrace", "process_vm_readv", "process_vm_writev",
    "kill", "mount", "umount2", "unshare", "setns", "bpf", "perf_event_open", "keyctl",
    "open_by_handle_at", "pidfd_open", "pidfd_getfd", "io_uring_setup", "userfaultfd",
)  # fmt: skip

# Clone(2): of this kind a decoder may begin as many as it likes.
_CLONE_THREAD = 0x00010000


def limit() -> None:
    """Bound memory, time and files of this process; the clock ends it where it waits without working."""
    resource.setrlimit(resource.RLIMIT_AS, (_held() + MEMORY,) * 2)
    resource.setrlimit(resource.RLIMIT_CPU, (SECONDS, SECONDS))
    resource.setrlimit(resource.RLIMIT_FSIZE, (0, 0))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    signal.signal(signal.SIGALRM, signal.SIG_DFL)
    wind_up()


def wind_up(seconds: int = 2 * SECONDS) -> None:
    """End this process after so many seconds by the clock; 0 stops the clock while it waits."""
    signal.alarm(seconds)


def _held() -> int:
    """Return how much address space this process has, in bytes (proc(5), statm)."""
    return int(Path("/proc/self/statm").read_text().split()[0]) * os.sysconf("SC_PAGESIZE")


def shut(file: Path) -> tuple[str, ...]:
    """Shut this process in with one file; return what could not be shut, in words."""
    return (*_shut_folders(file), *_filter_calls())


def _shut_folders(file: Path) -> tuple[str, ...]:
    try:
        from landlock import FSAccess, Ruleset

        rules = Ruleset()
        rules.allow(file, rules=FSAccess.READ_FILE)
        for place in _CODE:
            if Path(place).is_dir():
                rules.allow(place, rules=FSAccess.READ_FILE | FSAccess.READ_DIR | FSAccess.EXECUTE)
            elif Path(place).exists():
                rules.allow(place, rules=FSAccess.READ_FILE)
        rules.apply()
    except Exception as exc:  # noqa: BLE001 - the package's own errors, an old kernel, another system
        return (f"folders are not shut ({type(exc).__name__})",)
    return ()


def _filter_calls() -> tuple[str, ...]:
    try:
        import pyseccomp as seccomp

        rules = seccomp.SyscallFilter(seccomp.ALLOW)
        for call in _DENIED:
            rules.add_rule(seccomp.ERRNO(errno.EPERM), call)
        # its flags stand in memory, where no filter sees them: libraries then take clone(2)
        rules.add_rule(seccomp.ERRNO(errno.ENOSYS), "clone3")
        threads = seccomp.Arg(0, seccomp.MASKED_EQ, _CLONE_THREAD, 0)
        rules.add_rule(seccomp.ERRNO(errno.EPERM), "clone", threads)
        rules.load()
    except Exception as exc:  # noqa: BLE001 - see above
        return (f"calls are not filtered ({type(exc).__name__})",)
    return ()
