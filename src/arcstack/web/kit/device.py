"""What a browser says it is, in a word or two."""

_SYSTEMS = (
    ("iPad", "iPad"), ("iPhone", "iPhone"), ("Android", "Android"), ("CrOS", "Chromebook"), ("Windows", "Windows"),
    ("Macintosh", "Mac"), ("Linux", "Linux"),
)  # fmt: skip
_BROWSERS = (("Edg/", "Edge"), ("Firefox/", "Firefox"), ("Chrome/", "Chrome"), ("Safari/", "Safari"))


def device(agent: str) -> str:
    """Browser and system by the words that browsers use for themselves; what is none of them, as it is.

    >>> device("Mozilla/5.0 (Linux; Android 14; Tab) AppleWebKit/537.36 Chrome/120.0 Safari/537.36")
    'Chrome on Android'
    >>> device("curl/8.1")
    'curl/8.1'
    """
    browser = next((words for mark, words in _BROWSERS if mark in agent), "")
    system = next((words for mark, words in _SYSTEMS if mark in agent), "")
    return f"{browser} on {system}" if browser and system else agent[:40]
