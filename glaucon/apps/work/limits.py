"""What one piece of work may take, held by the system: processor time, memory, and time on the clock."""

from __future__ import annotations

import contextlib
import os
import resource
from dataclasses import dataclass

_TICKS = os.sysconf("SC_CLK_TCK")
_MEGABYTE = 1 << 20


@dataclass(frozen=True, slots=True)
class Limits:
    """Seconds of processor time, seconds on the clock, megabytes of memory."""

    cpu_seconds: int
    wall_seconds: int
    memory_mb: int


SHORT = Limits(cpu_seconds=30, wall_seconds=90, memory_mb=600)
# reading a site of thousands of pages takes minutes; how much is allowed for a smaller one its call says itself
OUTSIDE = Limits(cpu_seconds=120, wall_seconds=1300, memory_mb=900)  # fetching takes time, and little of the processor
LONG = Limits(cpu_seconds=1500, wall_seconds=2400, memory_mb=1200)


def hold(limits: Limits) -> None:
    """Put this process under limits, and behind those that answer people."""
    resource.setrlimit(resource.RLIMIT_CPU, (limits.cpu_seconds, limits.cpu_seconds + 2))
    # what a process has of its own; the address space alone says nothing where libraries reserve much of it
    memory = limits.memory_mb * _MEGABYTE
    resource.setrlimit(resource.RLIMIT_DATA, (memory, memory))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    os.nice(15)
    # gives way at once to whoever answers people, and takes all that they leave
    with contextlib.suppress(OSError):  # a container may forbid it
        os.sched_setscheduler(0, os.SCHED_IDLE, os.sched_param(0))


def cpu_seconds_of(process: int) -> float | None:
    """Return the processor time that a process has taken, None where it is gone."""
    try:
        with open(f"/proc/{process}/stat", encoding="ascii", errors="replace") as file:
            fields = file.read().rpartition(")")[2].split()
    except OSError:
        return None
    return (int(fields[11]) + int(fields[12])) / _TICKS
