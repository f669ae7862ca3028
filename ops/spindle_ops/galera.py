"""A Galera cluster of Debian's MariaDB: what a node and the balancer before them are told.

``docs/cluster.md`` says how it is set up on three machines; ``./spindle cluster`` does the same
with three nodes on this one.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

PROVIDER = Path("/usr/lib/galera/libgalera_smm.so")
CLUSTER = "spindle"

NODE = """\
[mariadbd]
datadir={data}
tmpdir={temporary}
socket={socket}
pid-file={pid}
log-error={log}
bind-address={host}
port={port}
skip-name-resolve
local-infile=0
character-set-server=utf8mb4
collation-server=utf8mb4_unicode_ci
sql-mode=STRICT_TRANS_TABLES,NO_ZERO_DATE,NO_ZERO_IN_DATE,ERROR_FOR_DIVISION_BY_ZERO
max_allowed_packet=64M
innodb_buffer_pool_size=256M
innodb_flush_log_at_trx_commit=1
# What Galera needs.
binlog_format=ROW
default_storage_engine=InnoDB
innodb_autoinc_lock_mode=2
wsrep_on=ON
wsrep_provider={provider}
wsrep_cluster_name={cluster}
wsrep_cluster_address=gcomm://{members}
wsrep_node_name={name}
wsrep_node_address={host}
wsrep_sst_method=rsync
wsrep_sst_receive_address={host}:{transfer}
wsrep_provider_options="gmcast.listen_addr=tcp://{host}:{group};ist.recv_addr={host}:{increment};\
gcache.size=256M"
"""

BALANCER = """\
global
    maxconn 400

defaults
    mode tcp
    timeout connect 2s
    timeout client 1h
    timeout server 1h
    timeout check 2s
    option redispatch
    retries 2

listen spindle
    bind {bind}
    balance leastconn
    option httpchk GET /
    # A node that leaves the majority loses its connections at once; who had one asks again.
    default-server inter 500ms fall 2 rise 2 on-marked-down shutdown-sessions
{servers}
"""


@dataclass(frozen=True)
class Node:
    """One node: its machine, and the six ports of it. ``check`` is where it tells the balancer
    whether it may be asked."""

    name: str
    host: str
    port: int = 3306
    group: int = 4567
    increment: int = 4568
    transfer: int = 4444
    check: int = 9200


def node_configuration(node: Node, members: Sequence[Node], folder: Path) -> str:
    """MariaDB's configuration of one node, its data below ``folder``."""
    return NODE.format(
        data=folder / "data",
        temporary=folder / "tmp",
        socket=folder / "mariadb.sock",
        pid=folder / "mariadb.pid",
        log=folder / "mariadb.log",
        host=node.host,
        port=node.port,
        provider=PROVIDER,
        cluster=CLUSTER,
        members=",".join(f"{one.host}:{one.group}" for one in members),
        name=node.name,
        transfer=node.transfer,
        group=node.group,
        increment=node.increment,
    )


def balancer_configuration(bind: str, members: Sequence[Node]) -> str:
    """HAProxy's configuration: one address before all nodes."""
    servers = "\n".join(
        f"    server {one.name} {one.host}:{one.port} check port {one.check}" for one in members
    )
    return BALANCER.format(bind=bind, servers=servers)


def may_be_asked(status: dict[str, str]) -> tuple[bool, str]:
    """Whether a node may be asked, from its ``SHOW STATUS LIKE 'wsrep%'``, and why not.

    A node that gives another its state is behind the others for that while; one that belongs to no
    majority answers nothing.
    """
    if status.get("wsrep_cluster_status") != "Primary":
        return False, "belongs to no majority"
    if status.get("wsrep_ready") != "ON":
        return False, "is not ready"
    if status.get("wsrep_local_state") != "4":
        said = status.get("wsrep_local_state_comment", "unknown").lower()
        return False, f"has not caught up with the others ({said})"
    return True, ""
