"""The schema says of every operation that its errors are problems."""

from __future__ import annotations

from typing import Any

PROBLEM: dict[str, Any] = {
    "type": "object",
    "description": "An error as RFC 9457 has it. `code` is stable, `detail` is a sentence for people.",
    "required": ["type", "title", "status", "code", "detail"],
    "properties": {
        "type": {"type": "string"},
        "title": {"type": "string"},
        "status": {"type": "integer"},
        "code": {"type": "string"},
        "detail": {"type": "string"},
        "request": {"type": "string", "description": "The request’s id, which stands in the server’s log."},
        "errors": {
            "type": "array",
            "description": "Places where something is wrong.",
            "items": {
                "type": "object",
                "required": ["where", "what"],
                "properties": {"where": {"type": "string"}, "what": {"type": "string"}},
            },
        },
        "current": {"description": "Of `changed` (412): what stands there now, with its ETag."},
    },
}


def with_problems(result: dict[str, Any], generator: Any, request: Any, public: bool) -> dict[str, Any]:
    """A hook of the schema's generator: every answer that isn't a success is a problem."""
    result["components"]["schemas"]["Problem"] = PROBLEM
    answer = {
        "description": "A problem.",
        "content": {"application/problem+json": {"schema": {"$ref": "#/components/schemas/Problem"}}},
    }
    for operations in result["paths"].values():
        for operation in operations.values():
            if isinstance(operation, dict) and "responses" in operation:
                operation["responses"]["default"] = answer
    return result
