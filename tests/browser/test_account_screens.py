"""Every screen of an account by hand: in, up, a code, a forgotten password, a changed address, the mailbox, the end."""

from __future__ import annotations

from typing import Any

import pytest
from django.core import mail
from django.core.cache import cache
from playwright.sync_api import Page, expect

from tests.apps.test_accounts import code_now
from tests.browser.conftest import page_in_letter, sign_up, watched

WORD = "lock keeper 9"


@pytest.fixture
def visitor(page: Page, base_url: str, transactional_db: None) -> Page:
    """Return the page of somebody who has just signed up, and is at their account."""
    cache.clear()
    watched(page)
    page.goto("/")
    sign_up(page, "marl@yard.example")
    page.get_by_role("heading", name="Your sites", exact=True).wait_for()
    page.goto("/account")
    expect(page.get_by_role("heading", name="Your account")).to_be_visible()
    return page


def _signs_in(page: Page, address: str, password: str) -> None:
    page.goto("/sign-in")
    page.get_by_label("Mail address").fill(address)
    page.get_by_label("Password", exact=True).fill(password)
    page.get_by_label("Password", exact=True).press("Enter")


def _signs_out(page: Page) -> None:
    page.get_by_role("button", name="marl@").click()
    page.get_by_role("menuitem", name="Sign out").click()
    page.get_by_role("heading", name="Sign in to your sites").wait_for()


def test_a_second_step_from_setting_up_to_signing_in(visitor: Page) -> None:
    visitor.get_by_role("button", name="Set it up").click()
    secret = visitor.locator(".SecondStep code").inner_text()
    visitor.get_by_label("The code that it shows now").fill(code_now(secret))
    visitor.get_by_role("button", name="Set it up").click()
    # the sign-in came from a letter: the password is asked for before anything changes
    visitor.get_by_label("Your password once more").fill(WORD)
    visitor.get_by_role("button", name="Go on").click()
    expect(visitor.get_by_text("Signing in asks for a code from now on.")).to_be_visible()
    spare = visitor.locator(".SecondStep pre").inner_text().split()[0]
    _signs_out(visitor)
    _signs_in(visitor, "marl@yard.example", WORD)
    visitor.get_by_label("The code that your app shows now").fill("12345678")
    visitor.keyboard.press("Enter")
    expect(visitor.get_by_role("alert").filter(has_text="That is not the code")).to_be_visible()
    visitor.get_by_label("The code that your app shows now").fill(spare)
    visitor.keyboard.press("Enter")
    visitor.get_by_role("heading", name="Your sites", exact=True).wait_for()


def _device(page: Page) -> None:
    """Give the browser a device that makes passkeys and has recognised its owner."""
    session = page.context.new_cdp_session(page)
    session.send("WebAuthn.enable")
    options = {
        "protocol": "ctap2", "transport": "internal", "hasResidentKey": True, "hasUserVerification": True,
        "isUserVerified": True, "automaticPresenceSimulation": True,
    }  # fmt: skip
    session.send("WebAuthn.addVirtualAuthenticator", {"options": options})


def test_a_passkey_from_making_it_to_signing_in_with_it(visitor: Page) -> None:
    _device(visitor)
    keys = visitor.locator(".PassKeys")
    keys.get_by_role("button", name="Add a passkey").click()
    keys.get_by_label("What is the device called?").fill("Lock cottage")
    keys.get_by_role("button", name="Make a passkey").click()
    visitor.get_by_label("Your password once more").fill(WORD)
    visitor.get_by_role("button", name="Go on").click()
    expect(keys.get_by_text("You can sign in with it from now on.")).to_be_visible()
    expect(keys.get_by_text("Lock cottage")).to_be_visible()
    spare = keys.locator("pre").inner_text().split()[0]
    # alone, instead of the password
    _signs_out(visitor)
    visitor.get_by_role("button", name="Sign in with a passkey").click()
    visitor.get_by_role("heading", name="Your sites", exact=True).wait_for()
    # after the password, which alone is no longer enough; a spare code does instead
    for last in ("Use a passkey", spare):
        _signs_out(visitor)
        _signs_in(visitor, "marl@yard.example", WORD)
        if last == spare:
            visitor.get_by_label("Or a spare code").fill(spare)
            visitor.get_by_label("Or a spare code").press("Enter")
        else:
            visitor.get_by_role("button", name=last).click()
        visitor.get_by_role("heading", name="Your sites", exact=True).wait_for()
    visitor.goto("/account")
    keys.get_by_role("button", name="Take away").click()
    visitor.get_by_label("Your password once more").fill(WORD)
    visitor.get_by_role("button", name="Go on").click()
    expect(keys.get_by_text("“Lock cottage” is taken away.")).to_be_visible()
    assert [one.subject for one in mail.outbox if "passkey" in one.subject] == [
        "A passkey was added", "A passkey was removed",
    ]  # fmt: skip
    _signs_out(visitor)
    visitor.get_by_role("button", name="Sign in with a passkey").click()
    expect(visitor.get_by_role("alert").filter(has_text="That passkey does not hold here.")).to_be_visible()
    _signs_in(visitor, "marl@yard.example", WORD)
    visitor.get_by_role("heading", name="Your sites", exact=True).wait_for()


def test_password_and_address_changed_forgotten_and_found_again(visitor: Page) -> None:
    visitor.get_by_label("Password now").fill("guess")
    visitor.get_by_label("New password").fill("tunnel mouth 4")
    visitor.get_by_label("New password").press("Enter")
    expect(visitor.get_by_role("alert").filter(has_text="That is not your password now")).to_be_visible()
    visitor.get_by_label("Password now").fill(WORD)
    visitor.get_by_label("New password").press("Enter")
    expect(visitor.get_by_text("The new password holds from now on.")).to_be_visible()
    visitor.get_by_label("New mail address").fill("marl@lock.example")
    visitor.get_by_label("New mail address").press("Enter")
    expect(visitor.get_by_text("A letter is on its way to the new address.")).to_be_visible()
    visitor.goto(page_in_letter("confirm"))
    visitor.get_by_role("button", name="Confirm my address").click()
    visitor.get_by_role("heading", name="Your sites", exact=True).wait_for()
    _signs_out(visitor)
    visitor.get_by_role("link", name="Forgot the password?").click()
    # the screen before has a field of the same name
    visitor.get_by_role("heading", name="Forgot the password?").wait_for()
    visitor.get_by_label("Mail address").fill("marl@lock.example")
    visitor.get_by_label("Mail address").press("Enter")
    expect(visitor.get_by_text("with a page to set a new password on")).to_be_visible()
    assert mail.outbox[-1].subject == "Set a new password"
    visitor.goto(page_in_letter("reset"))
    visitor.get_by_label("New password").fill("winding hole 5")
    visitor.keyboard.press("Enter")
    expect(visitor.get_by_role("heading", name="Your sites", exact=True).or_(
        visitor.get_by_role("heading", name="Sign in to your sites"))).to_be_visible()  # fmt: skip
    _signs_in(visitor, "marl@lock.example", "winding hole 5")
    visitor.get_by_role("heading", name="Your sites", exact=True).wait_for()


def test_the_mailbox_and_the_end_of_an_account(visitor: Page, settings: Any) -> None:
    settings.GLAUCON_DEMO, settings.EMAIL_BACKEND = True, "glaucon.apps.accounts.mailbox.MailboxBackend"
    visitor.goto("/account/reset")
    visitor.get_by_label("Mail address").fill("marl@yard.example")
    visitor.keyboard.press("Enter")
    visitor.get_by_role("link", name="Mailbox").click()
    expect(visitor.get_by_role("heading", name="Set a new password")).to_be_visible()
    assert "/account/reset/" in str(visitor.locator("article a").first.get_attribute("href"))
    visitor.goto("/account")
    visitor.get_by_role("button", name="Delete my account…").click()
    visitor.get_by_label("Your password", exact=True).fill("guess")
    visitor.get_by_role("button", name="Delete my account", exact=True).click()
    expect(visitor.get_by_role("alert").filter(has_text="nothing was deleted")).to_be_visible()
    visitor.get_by_label("Your password", exact=True).fill(WORD)
    visitor.get_by_role("button", name="Delete my account", exact=True).click()
    visitor.get_by_role("heading", name="Sign in to your sites").wait_for()
    _signs_in(visitor, "marl@yard.example", WORD)
    expect(visitor.get_by_role("alert").filter(has_text="do not go together")).to_be_visible()
