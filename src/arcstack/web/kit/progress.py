"""How far long work is, as a page tells it."""

from arcstack.application import Progress, State


def waiting(progress: list[Progress]) -> dict[str, object]:
    states = {p.state for p in progress}
    return {
        "preparing": State.PREPARING in states,
        "stopped": State.STOPPED in states,
        "failed": next((p.told for p in progress if p.state is State.FAILED), ""),
        "behind": sum(p.behind for p in progress),
        "size": sum(p.size for p in progress),
    }
