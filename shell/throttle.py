"""Limits on opening accounts and on trying passwords, by the sender's address."""

from __future__ import annotations

import ipaddress
from datetime import timedelta

from axes.models import AccessAttempt
from django.db.models import Sum
from django.http import HttpRequest
from django.utils import timezone

from shell.models import Arrival

#: accounts that one address may open, and in what time
MOST_ACCOUNTS, ACCOUNTS_IN = 10, timedelta(hours=1)
#: wrong passwords that one address may try over all names, and in what time
MOST_WRONG, WRONG_IN = 30, timedelta(minutes=15)


def address_of(request: HttpRequest) -> str:
    """The sender's address; of IPv6 the network, since one sender has all of its addresses.

    The server puts the true one here, also behind the proxy it trusts.
    """
    text = str(request.META.get("REMOTE_ADDR", ""))
    try:
        found = ipaddress.ip_address(text)
    except ValueError:
        return text[:45]
    if isinstance(found, ipaddress.IPv6Address):
        mapped = found.ipv4_mapped
        return str(mapped) if mapped else str(ipaddress.ip_network((found, 64), strict=False).network_address)
    return str(found)


def too_many_accounts(request: HttpRequest) -> bool:
    """Has the address opened as many accounts as it may for now?"""
    since = timezone.now() - ACCOUNTS_IN
    return Arrival.objects.filter(address=address_of(request), at__gte=since).count() >= MOST_ACCOUNTS


def note_account(request: HttpRequest) -> None:
    """An account was opened from here."""
    Arrival.objects.create(address=address_of(request))


def too_many_wrong(request: HttpRequest) -> bool:
    """Has the address tried too many wrong passwords, whatever the names?"""
    since = timezone.now() - WRONG_IN
    tried = AccessAttempt.objects.filter(ip_address=request.META.get("REMOTE_ADDR"), attempt_time__gte=since)
    return (tried.aggregate(sum=Sum("failures_since_start"))["sum"] or 0) >= MOST_WRONG
