"""What a screen reader is told of the program: its tree of controls as JSON. Runs on the system's own Python with GObject."""

import json
import sys
import time

import gi

gi.require_version("Atspi", "2.0")
from gi.repository import Atspi  # noqa: E402


def walk(node, path=()):
    states = node.get_state_set()
    value = None
    if "Value" in node.get_interfaces():
        value = [
            Atspi.Value.get_minimum_value(node),
            Atspi.Value.get_current_value(node),
            Atspi.Value.get_maximum_value(node),
        ]
    labels = [r for r in node.get_relation_set() if r.get_relation_type() == Atspi.RelationType.LABELLED_BY]
    yield {
        "under": [p for p in path if p][-4:],
        "role": node.get_role_name(),
        "name": node.get_name() or "",
        "labeled": bool(labels) or bool(node.get_description()),
        "focusable": states.contains(Atspi.StateType.FOCUSABLE),
        "showing": states.contains(Atspi.StateType.SHOWING),
        "value": value,
    }
    for i in range(min(node.get_child_count(), 400)):
        child = node.get_child_at_index(i)
        if child is not None:
            yield from walk(child, (*path, node.get_name() or node.get_role_name()))


def main():
    Atspi.init()
    deadline = time.monotonic() + 90.0
    while time.monotonic() < deadline:
        desktop = Atspi.get_desktop(0)
        programs = [desktop.get_child_at_index(i) for i in range(desktop.get_child_count())]
        ours = [p for p in programs if p is not None and "stance" in (p.get_name() or "").lower()]
        if ours and ours[0].get_child_count():
            time.sleep(6.0)
            print(json.dumps(list(walk(ours[0]))))
            return 0
        time.sleep(0.3)
    return 1


if __name__ == "__main__":
    sys.exit(main())
