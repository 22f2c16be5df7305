"""A mail backend that stands in for the outside: letters are kept, to be read on the Mailbox screen."""

from __future__ import annotations

from collections.abc import Sequence

from django.core.mail import EmailMessage
from django.core.mail.backends.base import BaseEmailBackend

from glaucon.apps.accounts.models import Letter

MOST_KEPT = 500


class MailboxBackend(BaseEmailBackend):
    """Keeps each letter once for each who gets it; of many the last ones."""

    def send_messages(self, email_messages: Sequence[EmailMessage]) -> int:
        for message in email_messages:
            for to in message.recipients():
                Letter.objects.create(to=to, subject=message.subject, body=str(message.body))
        last = Letter.objects.values_list("pk", flat=True)[MOST_KEPT : MOST_KEPT + 1]
        Letter.objects.filter(pk__lte=last[0] if last else 0).delete()
        return len(email_messages)
