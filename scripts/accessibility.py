"""Asks the running window over the accessibility bus, as a screen reader does, what is there.

Every station is gone to by the action of its button on the rail, and what opens beside the window
is opened by its button. Whatever takes the keys must have a name; pictures must have a name or a
description; where several of one kind stand side by side no two may be called the same. Exit code 1
with the places; 3 where there is no bus to ask.
"""
import sys
import time

import gi

gi.require_version("Atspi", "2.0")
from gi.repository import Atspi, GLib  # noqa: E402

# What opens beside the window, and by which button of which station, once an entry of a list there
# was picked. (What the menu opens is not asked for: a menu that has popped up is told to a reader
# that follows the keys, not to one that looks for it.)
DIALOGS = [
    ("Rack", "Add blade"),
    ("Rack", "Add run"),
    ("Rack", "Edit run"),
    ("Rack: Marl Tough 1", "Edit blade"),
    ("Rack: Marl Tough 1", "Steel card"),
    ("Rack: Marl Tough 1", "Medium card"),
    ("Rack: Marl Tough 1", "Outline…"),
    ("Stones", "Add a step"),
    ("Stones", "Change this step"),
    ("Lens", "Measure other pictures like this …"),
    ("Plan", "Print …"),
    ("Findings", "Several trials together…"),
    ("Verdict", "Print …"),
]
STATIONS = ["Rack", "Section", "Stones", "Plan", "Bench", "Lens", "Findings", "Verdict"]
# Containers that pass the keys on to what is in them, and rows that are told cell by cell.
PLACES = {
    "filler",
    "panel",
    "scroll pane",
    "viewport",
    "frame",
    "list item",
    "table cell",
    "layered pane",
}
BUTTONS = ("push button", "toggle button", "radio button", "check box", "button")
PICTURES = ("image", "graphic", "canvas", "drawing area", "chart")
ROWS_LOOKED_AT = 40


def wait_for(what, found, seconds=30, code=1):
    """The first answer of `found` that is something, within so many seconds; else the end."""
    end = time.time() + seconds
    while time.time() < end:
        try:
            answer = found()
        except Exception:  # an object that has just gone
            answer = None
        if answer:
            return answer
        time.sleep(0.2)
    print(f"accessibility: {what} is not told over the bus")
    sys.exit(code)


def children(thing):
    """What is in it; of long lists the first rows."""
    many = thing.get_child_count()
    if thing.get_role_name() in ("table", "list", "tree", "tree table"):
        many = min(many, ROWS_LOOKED_AT)
    for i in range(many):
        child = thing.get_child_at_index(i)
        if child is not None:
            yield child


def settled(look, tries=4):
    """What `look` gives once nothing goes away under it: a page may be made anew meanwhile."""
    for left in range(tries - 1, -1, -1):
        try:
            return look()
        except GLib.Error:
            if left == 0:
                raise
            time.sleep(1)


def all_in(thing, path=""):
    """(object, path) of everything that is shown in it."""
    here = f"{path}/{thing.get_role_name()} {thing.get_name()[:30]!r}"
    yield thing, here
    for child in children(thing):
        if child.get_state_set().contains(Atspi.StateType.VISIBLE):
            yield from all_in(child, here)


def program():
    desktop = Atspi.get_desktop(0)
    for i in range(desktop.get_child_count()):
        one = desktop.get_child_at_index(i)
        if one and one.get_name() == "Brave Quarry" and one.get_child_count():
            return one
    return None


def button_of(window, station):
    for thing, _ in all_in(window):
        name = thing.get_name()
        if thing.get_role_name() in BUTTONS and name.split(",")[0].split(" ")[0] == station:
            return thing
    return None


def press(thing):
    action = thing.get_action_iface()
    for i in range(action.get_n_actions()):
        if action.get_action_name(i) in ("Press", "Toggle", "press"):
            return action.do_action(i)
    return False


def faults_of(window, station):
    """What a listener would miss at this station; with how much there was to look at."""
    faults, focusable, pictures = [], 0, 0
    for thing, path in all_in(window):
        state = thing.get_state_set()
        if not state.contains(Atspi.StateType.SHOWING):
            continue
        role, name = thing.get_role_name(), thing.get_name().strip()
        if state.contains(Atspi.StateType.FOCUSABLE) and role not in PLACES:
            focusable += 1
            if not name:
                faults.append(f"{station}: no name: {path}")
        if role in PICTURES:
            pictures += 1
            if not name and not thing.get_description().strip():
                faults.append(f"{station}: says nothing: {path}")
        called = {}
        for child in children(thing):
            shown = child.get_state_set().contains(Atspi.StateType.SHOWING)
            if shown and child.get_state_set().contains(Atspi.StateType.FOCUSABLE):
                key = (child.get_role_name(), child.get_name())
                if key[1] and key[0] not in PLACES and key in called:
                    faults.append(f"{station}: two are called {key[1]!r} ({key[0]}): {path}")
                called[key] = True
    return faults, focusable, pictures


def windows():
    """Everything the program shows as a window of its own."""
    return list(children(program()))


def called(thing, names):
    """The first thing in it that is called so and can be pressed."""
    for found, _ in all_in(thing):
        if found.get_name() in names and found.get_action_iface():
            return found
    return None


def entry_of(window, name):
    """The entry of a list that begins with a name."""
    for found, _ in all_in(window):
        if found.get_role_name() == "list item" and found.get_name().startswith(name + ","):
            return found
    return None


def open_dialog(window, station, name):
    """Presses what opens it; the window that came."""
    before = len(windows())
    station, _, entry = station.partition(": ")
    press(wait_for(f"the button of {station}", lambda: button_of(window, station)))
    time.sleep(1)
    if entry:
        press(wait_for(f"{entry!r} of {station}", lambda: entry_of(window, entry)))
        time.sleep(1)
    button = wait_for(f"{name!r} of {station}", lambda: called(window, [name]))
    try:
        press(button)
    except GLib.Error:  # it waits for what it opened, and so does the answer
        pass
    return wait_for(f"what {name!r} opens", lambda: windows()[before:])[-1]


def close_dialog(dialog):
    """Leaves it, and waits until it is gone: what opens next is counted by it."""
    before = len(windows())
    if press(wait_for("the way out of a dialog", lambda: called(dialog, ["Cancel", "Close"]))):
        wait_for("the end of a dialog", lambda: len(windows()) < before)


def main():
    Atspi.init()
    # A program that runs and is not told of at all: there is no bus to ask here.
    window = wait_for("the window", program, code=3)
    wait_for("an open project", lambda: button_of(window, "Bench"))
    time.sleep(3)
    faults, focusable, pictures = [], 0, 0
    for station in STATIONS:
        button = wait_for(f"the button of {station}", lambda s=station: button_of(window, s))
        if not press(button):
            sys.exit(f"accessibility: {station} cannot be gone to over the bus")
        time.sleep(1.5)
        wrong, taking_keys, seen = settled(lambda s=station: faults_of(window, s))
        faults += wrong
        focusable += taking_keys
        pictures += seen
        counts = f"{taking_keys} take the keys, {seen} pictures, {len(wrong)} faults"
        print(f"accessibility: {station}: {counts}")
    if focusable < 150 or pictures < 5:
        sys.exit(f"accessibility: only {focusable} controls and {pictures} pictures are told")
    for station, name in DIALOGS:
        dialog = open_dialog(program(), station, name)
        wrong, taking_keys, _ = settled(lambda d=dialog, n=name: faults_of(d, n))
        if not dialog.get_name().strip():
            wrong.append(f"{name}: a window without a name")
        faults += wrong
        print(f"accessibility: {name}: {taking_keys} take the keys, {len(wrong)} faults")
        close_dialog(dialog)
    for fault in dict.fromkeys(faults):
        print(fault)
    return 1 if faults else 0


if __name__ == "__main__":
    sys.exit(main())
