"""News reach everybody who listens, in order, and nobody who has left holds a place."""

from __future__ import annotations

import threading

import pytest

from haze.service.work import news as room
from haze.service.work.news import CardNews, News, PlanNews


def test_all_hear_what_is_told_from_now_on() -> None:
    news = News()
    news.tell("p0", 1, by="a")
    one, two = news.listen(), news.listen()
    assert next(one) is None
    assert next(two) is None
    news.tell("p1", 2, by="a")
    news.tell("p2", 9, by="b")
    heard = [PlanNews(plan="p1", version=2, by="a"), PlanNews(plan="p2", version=9, by="b")]
    assert [next(one), next(one)] == heard
    assert [next(two), next(two)] == heard


def test_photos_of_cards_are_told_among_plans_in_order() -> None:
    news = News()
    heard = news.listen()
    next(heard)
    news.tell("p1", 2, by="a")
    news.tell_card("c1", by="tablet")
    assert next(heard) == PlanNews(plan="p1", version=2, by="a")
    assert next(heard) == CardNews(photo="c1", by="tablet")


def test_silence_is_broken_so_that_a_dead_page_is_noticed(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(room, "LOOK_EVERY_S", 0.01)
    heard = News().listen()
    assert [next(heard), next(heard), next(heard)] == [None, None, None]


def test_closing_lets_all_go() -> None:
    news = News()
    heard = news.listen()
    next(heard)
    left: list[object] = []
    waiting = threading.Thread(target=lambda: left.extend(heard))
    waiting.start()
    news.close()
    waiting.join(timeout=60)
    assert not waiting.is_alive()
    assert left == []
