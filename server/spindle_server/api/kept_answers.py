"""Whole answers that are kept as JSON says them: putting a large one into words takes longer than
finding it."""

from __future__ import annotations

import json
from collections.abc import Callable
from typing import Any

from rest_framework.renderers import JSONRenderer
from rest_framework.response import Response
from rest_framework.serializers import BaseSerializer

from spindle_server.records.kept import kept


def kept_answer(
    name: str,
    rests_on: object,
    serializer: type[BaseSerializer[Any]],
    make: Callable[[], Any],
    *,
    many: bool = False,
) -> Response:
    """The answer to a question, made where it is not known any more; see :func:`kept`.

    :param many: whether ``make`` gives a list of what the serializer takes.
    """

    def said() -> Any:
        return json.loads(JSONRenderer().render(serializer(make(), many=many).data))

    return Response(kept(f"answer:{name}", rests_on, said))
