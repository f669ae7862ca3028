"""A database elsewhere: where it is stays known, and what cannot be is refused in a sentence."""

import json
import socket
import threading
import urllib.error
import urllib.request

import pytest

from spindle_ops import elsewhere, node_check
from spindle_ops.copies import dump_command
from spindle_ops.elsewhere import (
    PASSWORD,
    DatabaseElsewhere,
    Elsewhere,
    choose,
    choose_copy,
    elsewhere_of,
)
from spindle_ops.galera import Node, balancer_configuration, may_be_asked, node_configuration
from spindle_ops.instance import Instance, check_ports, free_port
from spindle_ops.mariadb import Database
from spindle_ops.problem import Problem
from spindle_ops.processes import database_of

WELL = {"wsrep_cluster_status": "Primary", "wsrep_ready": "ON", "wsrep_local_state": "4"}


@pytest.fixture
def folder(tmp_path, monkeypatch):
    monkeypatch.setenv(PASSWORD, "its-password")
    return tmp_path / "home"


def made(folder):
    instance = Instance("start", folder, free_port(), demo=False)
    instance.prepare()
    return instance


class TestWhereItIs:
    def test_stays_known_to_every_later_command(self, folder, monkeypatch):
        choose(folder, "db.example:3307")
        monkeypatch.delenv(PASSWORD)
        instance = made(folder)
        assert instance.elsewhere == Elsewhere("db.example", 3307, "its-password")
        environment = instance.environment()
        assert environment["SPINDLE_DB_HOST"] == "db.example"
        assert environment["SPINDLE_DB_PORT"] == "3307"
        assert environment["SPINDLE_DB_PASSWORD"] == "its-password"
        command, _ = dump_command(instance)
        assert "--host=db.example" in command
        assert not [one for one in command if "socket" in one or "its-password" in one]
        assert isinstance(database_of(instance), DatabaseElsewhere)

    def test_is_for_its_owner_only(self, folder):
        choose(folder, "127.0.0.1:3306")
        assert (folder / elsewhere.FILE).stat().st_mode & 0o077 == 0

    def test_a_copy_for_reading_is_kept_beside_it(self, folder):
        choose(folder, "db.example:3307")
        choose_copy(folder, "[::1]:3308")
        instance = made(folder)
        assert instance.elsewhere == Elsewhere("db.example", 3307, "its-password", ("::1", 3308))
        environment = instance.environment()
        assert environment["SPINDLE_DB_COPY_HOST"] == "::1"
        assert environment["SPINDLE_DB_COPY_PORT"] == "3308"
        assert (folder / elsewhere.FILE).stat().st_mode & 0o077 == 0
        choose_copy(folder, "none")
        assert "SPINDLE_DB_COPY_HOST" not in made(folder).environment()

    def test_another_database_has_other_copies(self, folder):
        choose(folder, "db.example:3307")
        choose_copy(folder, "db.example:3308")
        choose(folder, "db.example:3309")
        assert elsewhere_of(folder).copy is None

    @pytest.mark.parametrize("text", ["", "db", "db:x", "db:65536", "here"])
    def test_a_copy_at_no_place_is_refused(self, folder, text):
        choose(folder, "db.example:3307")
        with pytest.raises(Problem, match="--reading is HOST:PORT"):
            choose_copy(folder, text)
        assert elsewhere_of(folder).copy is None

    def test_a_database_is_no_copy_of_itself(self, folder):
        choose(folder, "db.example:3307")
        with pytest.raises(Problem, match="the database itself"):
            choose_copy(folder, "db.example:3307")

    def test_the_database_in_the_folder_has_no_copy(self, folder):
        choose_copy(folder, "none")
        with pytest.raises(Problem, match="goes with --database"):
            choose_copy(folder, "db.example:3308")

    def test_here_is_what_it_was(self, folder):
        choose(folder, "127.0.0.1:3306")
        choose(folder, "here")
        choose(folder, "here")
        instance = made(folder)
        assert instance.elsewhere is None
        assert "SPINDLE_DB_HOST" not in instance.environment()
        assert isinstance(database_of(instance), Database)

    @pytest.mark.parametrize(
        "text", ["", "db", ":3306", "db:", "db:x", "db:0", "db:65536", "db:-1", "db:3306/spindle"]
    )
    def test_what_is_no_place_is_refused(self, folder, text):
        with pytest.raises(Problem, match="HOST:PORT"):
            choose(folder, text)
        assert not (folder / elsewhere.FILE).exists()

    def test_without_a_password_it_is_refused(self, folder, monkeypatch):
        monkeypatch.delenv(PASSWORD)
        with pytest.raises(Problem, match=PASSWORD):
            choose(folder, "db:3306")

    def test_a_record_that_lies_here_is_not_left_behind(self, folder):
        (folder / "mariadb" / "data" / "mysql").mkdir(parents=True)
        with pytest.raises(Problem, match="database of its own"):
            choose(folder, "db:3306")
        assert elsewhere_of(folder) is None

    @pytest.mark.parametrize("text", ["", "{}", "[]", '{"host": "a", "port": "x", "password": ""}'])
    def test_what_is_damaged_is_said(self, folder, text):
        folder.mkdir()
        (folder / elsewhere.FILE).write_text(text)
        with pytest.raises(Problem, match=r"database\.json is damaged"):
            elsewhere_of(folder)

    def test_the_port_of_its_own_database_may_be_in_use(self, folder):
        choose(folder, "127.0.0.1:3306")
        instance = made(folder)
        with socket.socket() as other:
            other.bind(("127.0.0.1", instance.database_port))
            check_ports(instance)
            choose(folder, "here")
            with pytest.raises(Problem, match="the database"):
                check_ports(instance)


class TestStarting:
    def test_waits_until_it_greets(self):
        with socket.create_server(("127.0.0.1", 0)) as listener:
            port = listener.getsockname()[1]

            def greet():
                line, _ = listener.accept()
                line.sendall(b"J")
                line.close()

            threading.Thread(target=greet, daemon=True).start()
            DatabaseElsewhere(Elsewhere("127.0.0.1", port, "")).start()

    def test_one_that_takes_connections_and_says_nothing_is_none(self, monkeypatch):
        monkeypatch.setattr(elsewhere, "ANSWERS_WITHIN_S", 0.5)
        with socket.create_server(("127.0.0.1", 0)) as listener:
            port = listener.getsockname()[1]

            def hang_up():
                line, _ = listener.accept()
                line.close()

            threading.Thread(target=hang_up, daemon=True).start()
            with pytest.raises(Problem, match=f"No database answers at 127.0.0.1:{port}"):
                DatabaseElsewhere(Elsewhere("127.0.0.1", port, "")).start()

    def test_it_is_not_ended_with_us(self):
        there = DatabaseElsewhere(Elsewhere("127.0.0.1", 1, ""))
        there.stop()
        there.kill()
        there.end_left_over()
        assert there.process is None


class TestANode:
    def test_may_be_asked_while_it_belongs_to_the_majority_and_has_caught_up(self):
        assert may_be_asked(WELL) == (True, "")

    @pytest.mark.parametrize(
        ("changed", "why"),
        [
            ({"wsrep_cluster_status": "non-Primary"}, "majority"),
            ({"wsrep_ready": "OFF"}, "not ready"),
            ({"wsrep_local_state": "2"}, "caught up"),
            ({"wsrep_local_state": "3"}, "caught up"),
        ],
    )
    def test_else_it_says_why_not(self, changed, why):
        well, said = may_be_asked({**WELL, **changed})
        assert not well
        assert why in said

    def test_a_server_that_is_no_node_may_not(self):
        assert may_be_asked({})[0] is False
        assert may_be_asked({"wsrep_ready": "OFF"})[0] is False

    def test_tells_the_balancer_over_http(self, monkeypatch):
        told = dict(WELL)
        monkeypatch.setattr(node_check, "status_of", lambda *a: told)
        with node_check.server("127.0.0.1", 0, "", "", "") as answering:
            threading.Thread(target=answering.serve_forever, daemon=True).start()
            address = f"http://127.0.0.1:{answering.server_address[1]}/"
            with urllib.request.urlopen(address, timeout=5) as answer:
                assert answer.status == 200
            told["wsrep_cluster_status"] = "Disconnected"
            with pytest.raises(urllib.error.HTTPError) as refused:
                urllib.request.urlopen(address, timeout=5)
            assert refused.value.code == 503
            assert b"majority" in refused.value.read()
            answering.shutdown()

    def test_one_that_does_not_answer_is_asked_nothing(self, tmp_path):
        assert node_check.status_of(str(tmp_path / "no.sock"), "nobody", "") == {}

    def test_an_ordinary_server_is_read_and_is_no_node(self, instance, database):
        database.start()
        password = instance.secrets()["database"]
        status = node_check.status_of(str(instance.database_socket), "spindle", password)
        assert status["wsrep_ready"] == "OFF"
        assert may_be_asked(status)[0] is False


def test_configurations_name_every_node(tmp_path):
    nodes = [Node(name, f"10.0.0.{k}") for k, name in enumerate(("one", "two", "three"), start=1)]
    text = node_configuration(nodes[1], nodes, tmp_path)
    assert "wsrep_cluster_address=gcomm://10.0.0.1:4567,10.0.0.2:4567,10.0.0.3:4567\n" in text
    assert "wsrep_node_name=two\n" in text
    assert "bind-address=10.0.0.2\n" in text
    assert "{" not in text
    balancer = balancer_configuration("10.0.0.9:3306", nodes)
    assert balancer.count("server ") - balancer.count("timeout server") == 3 + 1
    assert "    server three 10.0.0.3:3306 check port 9200" in balancer


def test_an_address_in_brackets_is_kept_without_them(folder):
    choose(folder, "[::1]:3306")
    assert json.loads((folder / elsewhere.FILE).read_text())["host"] == "::1"
