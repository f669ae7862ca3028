"""Several stands are known, one is driven; a stop goes to all of them."""

import asyncio
import contextlib
import json

import pytest

from spindle_bench.agent.process import Agent
from spindle_bench.door.process import Door
from spindle_bench.errors import RefusedError
from spindle_bench.known_stands import KnownStand, read_driven, stand_from, write_driven
from spindle_bench.stand.device import SimulatedStand
from spindle_bench.stand.server import StandServer
from spindle_bench.states import State

from ..conftest import make_plan
from ..test_spool_and_delivery import Store
from .test_agent import KEY, ORIGIN, House, Page, played

FIRST, SECOND = "yard stand", "kitchen logger"


class TwoStands(House):
    """As the house, with a second stand beside the first."""

    async def open(self):
        self.second = SimulatedStand(seed=3, heartbeat_limit_s=1.0)
        known = []
        for stand, words in ((self.stand, FIRST), (self.second, SECOND)):
            server, ready = StandServer(stand), asyncio.Event()
            self.tasks.append(asyncio.create_task(server.serve("127.0.0.1", 0, ready)))
            await ready.wait()
            known.append(KnownStand(server.port, words))
        self.driven = self.folder / "driven.json"
        self.agent = Agent(
            folder=self.folder / "agent",
            socket_path=self.path,
            stands=known,
            driven=self.driven,
            store=self.store,
        )
        self.tasks.append(asyncio.create_task(self.agent.run()))
        self.door, open_ = (
            Door(key=KEY, stands=known, driven=self.driven, agent_socket=self.path),
            asyncio.Event(),
        )
        self.tasks.append(asyncio.create_task(self.door.run("127.0.0.1", 0, [ORIGIN], open_)))
        await open_.wait()
        await self.frame_where(lambda frame: frame["link"])

    async def take(self, words):
        await self.request(do="stand", words=words)
        return await self.frame_where(lambda frame: frame["link"] and frame["stand"] == words)


@contextlib.asynccontextmanager
async def two_stands(folder):
    house = TwoStands(folder)
    try:
        await house.open()
        yield house
    finally:
        await house.close()


async def waited(wanted, seconds=10.0):
    async with asyncio.timeout(seconds):
        while not wanted():
            await asyncio.sleep(0.01)


def test_what_is_armed_is_the_stand_that_was_chosen(tmp_path):
    async def scene():
        async with two_stands(tmp_path) as house, Page(house):
            frame = await house.frame_where(lambda frame: True)
            assert (frame["stand"], frame["stands"]) == (FIRST, [FIRST, SECOND])
            await house.take(SECOND)
            await waited(lambda: house.agent.engine.hello is not None)
            await house.arm(make_plan())
            assert house.second.armed
            assert not house.stand.armed

    played(scene)


def test_another_stand_is_taken_only_at_rest(tmp_path):
    async def scene():
        async with two_stands(tmp_path) as house, Page(house):
            await house.arm(make_plan())
            with pytest.raises(RefusedError, match="taken at rest"):
                await house.request(do="stand", words=SECOND)
            assert house.stand.armed
            assert house.agent.stand.words == FIRST
            with pytest.raises(RefusedError, match="no stand of this bench"):
                await house.request(do="stand", words="another")

    played(scene)


def test_the_door_confirms_by_the_stand_that_is_driven_and_stops_both(tmp_path):
    async def scene():
        async with two_stands(tmp_path) as house, Page(house) as page:
            await house.take(SECOND)
            await waited(lambda: house.door.stand.words == SECOND)
            await waited(lambda: house.door.desk.stand is not None)
            await house.arm(make_plan())
            # Somebody else's program holds the other one.
            house.stand.handle({"type": "arm", "seq": 1}, "x", asyncio.get_running_loop().time())
            await page.say(type="stop", id=7)
            assert (await page.hears("stopped"))["id"] == 7
            await waited(lambda: not house.second.armed and not house.stand.armed)
            assert house.second.last_cut["code"] == "stopped"
            # Not by its own patience: a stop came.
            assert house.stand.last_cut["code"] == "stopped"

    played(scene)


def test_what_was_chosen_outlives_the_agent(tmp_path):
    async def scene():
        async with two_stands(tmp_path) as house:
            await house.take(SECOND)
            again = Agent(
                folder=tmp_path / "again",
                socket_path=tmp_path / "b.sock",
                stands=house.agent.stands,
                driven=house.driven,
                store=Store(),
            )
            assert again.stand.words == SECOND

    played(scene)


def test_nothing_of_the_stand_before_is_shown_or_believed(tmp_path):
    async def scene():
        async with two_stands(tmp_path) as house:
            await house.frame_where(lambda frame: frame["values"])
            house.agent.engine.state = State.SAFE
            await house.request(do="stand", words=SECOND)
            engine = house.agent.engine
            assert engine.state is State.IDLE
            assert (engine.plan, engine.end, engine.last_sample) == (None, None, {})

    played(scene)


def test_a_choice_that_cannot_be_written_down_is_none(tmp_path):
    async def scene():
        async with two_stands(tmp_path) as house:
            house.agent._driven_file = tmp_path / "nowhere" / "driven.json"
            with pytest.raises(RefusedError, match="cannot be written down"):
                await house.request(do="stand", words=SECOND)
            assert house.agent.stand.words == FIRST

    played(scene)


STANDS = [KnownStand(1, FIRST), KnownStand(2, SECOND)]


@pytest.mark.parametrize(
    "text", ["", "{", "[]", "7", json.dumps({"words": "gone"}), json.dumps({"port": 2}), "\x00"]
)
def test_a_file_that_says_nothing_means_the_first(tmp_path, text):
    file = tmp_path / "driven.json"
    file.write_text(text)
    assert read_driven(file, STANDS) is STANDS[0]


def test_what_is_written_is_read():
    assert read_driven(None, STANDS) is STANDS[0]
    write_driven(None, STANDS[1])


def test_a_choice_is_written_whole(tmp_path):
    file = tmp_path / "driven.json"
    write_driven(file, STANDS[1])
    assert read_driven(file, STANDS) is STANDS[1]
    assert [path.name for path in tmp_path.iterdir()] == ["driven.json"]


def test_a_stand_is_told_by_port_and_name():
    assert stand_from("8138=a = b") == KnownStand(8138, "a = b")
    for text in ("", "8138", "=x", "x=y", "8138= ", "٣=x"):
        with pytest.raises(ValueError, match="PORT=NAME"):
            stand_from(text)
