"""Which random numbers of a formula go whole into its value: on a point each of its axes gets one of its own."""

from __future__ import annotations

import ast
from collections import Counter

from .table import function_of


def free_calls(module: ast.Module) -> set[int]:
    """The places (ids of nodes) of calls of random functions that reach the value of a formula as they are, or as a
    summand, a factor, a choice of it; not those that are made a part of a pair, compared or measured on the way.

    >>> tree = ast.parse("a = wander(1, 9)\\n(a, base.y) + wander(2, 3)")
    >>> len(free_calls(tree))
    1
    """
    found: set[int] = set()
    reached: Counter[str] = Counter()
    loads = Counter(
        node.id for node in ast.walk(module) if isinstance(node, ast.Name) and isinstance(node.ctx, ast.Load)
    )

    def visit(node: ast.AST) -> None:
        if isinstance(node, ast.Name):
            reached[node.id] += 1
        elif isinstance(node, ast.BinOp):
            visit(node.left)
            visit(node.right)
        elif isinstance(node, ast.UnaryOp):
            visit(node.operand)
        elif isinstance(node, ast.IfExp):
            visit(node.body)
            visit(node.orelse)
        elif isinstance(node, ast.Call) and isinstance(node.func, ast.Name):
            function = function_of(node.func.id)
            if function is not None and function.random:
                found.add(id(node))
            elif function is not None and function.passes is not None:
                for one in node.args[function.passes]:
                    visit(one)

    last = module.body[-1]
    if isinstance(last, ast.Expr):
        visit(last.value)
    for line in reversed(module.body[:-1]):
        if isinstance(line, ast.Assign) and len(line.targets) == 1 and isinstance(line.targets[0], ast.Name):
            name = line.targets[0].id
            if 0 < reached[name] == loads[name]:
                visit(line.value)
    return found
