"""Work beside the window's own: done on a thread, its answer taken where the window is."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from threading import local
from typing import Any, TypeVar

from PySide6.QtCore import QEventLoop, QObject, QRunnable, QThreadPool, Signal

T = TypeVar("T")
_here = local()


def tell(take: Callable[..., None], *what: Any) -> None:
    """Called from work on a thread: have ``take`` called in the window's thread, unless the owner is gone."""
    post = getattr(_here, "post", None)
    if post is not None:
        post.came.emit(lambda _: take(*what), None)


class Background(QObject):
    """At most so many threads. What is started here is answered by a call in the window's thread, or not at all
    once the owner is gone."""

    def __init__(self, owner: QObject, threads: int = 1) -> None:
        super().__init__(owner)
        self._pool = QThreadPool(self)
        self._pool.setMaxThreadCount(threads)

    def start(
        self, work: Callable[[], T], take: Callable[[T], None], failed: Callable[[Exception], None] | None = None
    ) -> None:
        """Do ``work`` on a thread and give its answer to ``take``. An error arrives like an answer: it is given to
        ``failed`` and then raised in the window's thread, where it is logged and told."""
        post = _Post()
        post.came.connect(self._hand_over)
        post.broke.connect(self._hand_over_error)
        self._pool.start(_Task(work, take, failed or _nobody, post))

    def wait_for(self, work: Callable[[], T]) -> T:
        """Do ``work`` on a thread while the window goes on painting but takes no input; returns its answer, or raises
        what it raised."""
        loop, ends = QEventLoop(self), list[tuple[T | None, Exception | None]]()

        def outcome() -> tuple[T | None, Exception | None]:
            try:
                return work(), None
            except Exception as error:  # noqa: BLE001 - raised again below
                return None, error

        def take(end: tuple[T | None, Exception | None]) -> None:
            ends.append(end)
            loop.quit()

        self.start(outcome, take)
        while not ends:
            loop.exec(QEventLoop.ProcessEventsFlag.ExcludeUserInputEvents)
        answer, error = ends[0]
        if error is not None:
            raise error
        return answer  # type: ignore[return-value]

    def clear(self) -> None:
        """Leave what has not begun."""
        self._pool.clear()

    def finish(self, milliseconds: int = 30_000) -> None:
        """Wait for what was started. The answers come with the next turn of the event loop."""
        self._pool.waitForDone(milliseconds)

    def _hand_over(self, take: Callable[[Any], None], answer: Any) -> None:
        take(answer)

    def _hand_over_error(self, failed: Callable[[Exception], None], error: Exception) -> None:
        failed(error)
        raise error


class _Post(QObject):
    """The way of one answer. It belongs to its job, so it outlives whoever asked."""

    came = Signal(object, object)
    broke = Signal(object, object)


class _Task(QRunnable):
    def __init__(
        self, work: Callable[[], Any], take: Callable[[Any], None], failed: Callable[[Exception], None], post: _Post
    ) -> None:
        super().__init__()
        self.work, self.take, self.failed, self.post = work, take, failed, post

    def run(self) -> None:
        _here.post = self.post
        try:
            answer = self.work()
        except Exception as error:  # noqa: BLE001 - it is raised again in the window's thread
            with suppress(RuntimeError):  # the program ends, nobody is there to take it
                self.post.broke.emit(self.failed, error)
        else:
            with suppress(RuntimeError):
                self.post.came.emit(self.take, answer)


def _nobody(error: Exception) -> None:
    """Nobody waits to be told."""
