"""A second factor: codes of six digits that a telephone makes from a secret and the clock (TOTP, RFC 6238)."""

import pyotp
import segno

STEP_S = 30
NEAR = 1
"""A code of the step before or after is taken too: clocks differ by some seconds."""


def new_secret() -> str:
    """A secret for one person's telephone, in base 32."""
    return pyotp.random_base32()


def sound(secret: str) -> bool:
    """Whether a text is a secret that codes can be made from.

    >>> sound(new_secret()), sound("A"), sound("")
    (True, False, False)
    """
    try:
        pyotp.TOTP(secret)
    except ValueError:
        return False
    return len(secret) <= 64


def step_of(secret: str, code: str, now_s: float, last: int = 0) -> int | None:
    """Of which step of 30 s a code is; None for one that is wrong, and for one of a step that was used already.

    The first is the standard's own: its secret gives 94287082 at 59 s, whose last six count.

    >>> secret = "GEZDGNBVGY3TQOJQGEZDGNBVGY3TQOJQ"
    >>> step_of(secret, "287082", 59.0), step_of(secret, "287 082", 80.0), step_of(secret, "287082", 59.0, last=1)
    (1, 1, None)
    """
    given = code.strip().replace(" ", "")
    if not given.isdigit() or len(given) != 6:
        return None
    if not sound(secret):
        return None
    made, now = pyotp.TOTP(secret, interval=STEP_S), int(now_s // STEP_S)
    for step in range(now - NEAR, now + NEAR + 1):
        if step > last and pyotp.utils.strings_equal(given, made.at(step * STEP_S)):
            return step
    return None


def picture(secret: str, name: str) -> str:
    """What a telephone reads the secret from, as SVG."""
    address = pyotp.TOTP(secret).provisioning_uri(name=name, issuer_name="Arc Stack")
    drawn: str = segno.make(address, error="m").svg_inline(scale=5, border=2)
    return drawn
