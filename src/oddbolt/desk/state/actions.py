"""The table of actions: each has a name, a menu place, a key, what it does and when it can be done.

Pages and the shell fill it; the menus, the key list and the large page are made from it.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator

from attrs import field, frozen


def _always() -> str:
    return ""


@frozen
class Action:
    """One action. ``name`` is unique ("steps.earlier"); ``text`` is the menu's, with & before its letter.

    ``menu`` is a menu or "Menu/Submenu"; actions of one ``group`` stand together, groups in order of their number.
    ``why_not`` gives the reason why it cannot be done now, or ""; ``checked`` tells whether it is on. ``large`` is its
    word on the large page.
    """

    name: str
    text: str
    menu: str
    run: Callable[[], object]
    keys: str = ""
    group: int = 0
    why_not: Callable[[], str] = _always
    checked: Callable[[], bool] | None = None
    label: Callable[[], str] | None = None
    large: str = ""
    plain: str = field(init=False)

    @plain.default
    def _plain(self) -> str:
        return self.text.replace("&", "").removesuffix(" …")


class Actions:
    """All actions by name. Raises ValueError for a name or a key given twice: a mistake of ours."""

    def __init__(self) -> None:
        self._named: dict[str, Action] = {}
        self.tell: Callable[[str], None] = lambda _sentence: None

    def add(self, *actions: Action) -> None:
        """Add actions."""
        for action in actions:
            other = next((a for a in self if action.keys and a.keys == action.keys), None)
            if action.name in self._named or other is not None:
                raise ValueError(f"{action.name} ({action.keys}) stands twice in the table of actions")
            self._named[action.name] = action

    def __iter__(self) -> Iterator[Action]:
        return iter(self._named.values())

    def named(self, name: str) -> Action:
        """The action of this name. Raises KeyError."""
        return self._named[name]

    def in_menu(self, menu: str) -> list[Action]:
        """The actions of one menu, its submenus' too, in order."""
        return sorted((a for a in self if a.menu.partition("/")[0] == menu), key=lambda a: a.group)

    def on_large_page(self) -> dict[str, str]:
        """Names and words of the actions that have a large key."""
        return {a.name: a.large for a in self if a.large}

    def run(self, name: str) -> None:
        """Do it, or say why it cannot be done now."""
        action = self._named[name]
        why_not = action.why_not()
        if why_not:
            self.tell(why_not)
        else:
            action.run()
