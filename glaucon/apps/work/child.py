"""What runs inside a process of work: one call, from its arguments to its answer."""

from __future__ import annotations

import ctypes
import os
import signal

from glaucon.apps.work.limits import Limits, hold

_PR_SET_PDEATHSIG = 1


def main(number: int, limits: Limits) -> None:
    """Do the work of that number."""
    # nobody is left to watch it when the one who forked it is gone
    ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, signal.SIGKILL)
    for each in (signal.SIGINT, signal.SIGTERM):
        signal.signal(each, signal.SIG_DFL)
    hold(limits)

    from glaucon.apps.accounts.passes import asking
    from glaucon.apps.work.calls import answer_of_call
    from glaucon.apps.work.models import Work
    from glaucon.apps.work.queue import close

    work = Work.objects.select_related("owner").get(pk=number)
    with asking(work.word):
        status, body = answer_of_call(work.call, work.owner, work.given)
    close(work, status, body)
    os._exit(0)
