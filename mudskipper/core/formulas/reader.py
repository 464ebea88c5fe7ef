"""Formulas read: Python's own syntax, of which only what stands here is allowed, made into functions over arrays.

Nothing of a formula is ever evaluated by Python. A value is an array (n | 1, d): a number (d = 1), a pair (2) or a
colour (4, r g b a in 0…255); or a text that names something.
"""

from __future__ import annotations

import ast
import difflib
import warnings
from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache
from typing import Any, NoReturn

import numpy as np
from tinycss2.color4 import parse_color

from ..geometry.bezier import Floats
from ..tracks.colour import COLOUR
from .environment import Environment, Reference, Run
from .flow import free_calls
from .foreign import LIBRARIES
from .functions import Call, Function
from .problem import Faulty, FormulaProblem, Mend
from .table import TABLE
from .texts import Texts, chosen, joined
from .unread import unread
from .values import alike, numbers, part_of, plain, texts, with_gaps

MOST_LETTERS, MOST_NODES, MOST_DEPTH = 2_000, 400, 40

OPERATORS: dict[type[ast.AST], Callable[..., Any]] = {
    ast.Add: np.add, ast.Sub: np.subtract, ast.Mult: np.multiply, ast.Div: np.divide, ast.Mod: np.mod,
    ast.FloorDiv: np.floor_divide, ast.Pow: np.power,
}  # fmt: skip
COMPARISONS: dict[type[ast.AST], Callable[..., Any]] = {
    ast.Lt: np.less, ast.LtE: np.less_equal, ast.Gt: np.greater, ast.GtE: np.greater_equal, ast.Eq: np.equal,
    ast.NotEq: np.not_equal,
}  # fmt: skip
PARTS = {"x": 0, "y": 1, "r": 0, "g": 1, "b": 2, "a": 3}
MEANT = {
    "value": "base", "time": "t", "seconds": "t", "frames": "frame", "lerp": "mix", "true": "1", "false": "0",
    "PI": "pi", "TAU": "tau", "deg": "degrees", "rad": "radians", "ceiling": "ceil", "frac": "fract",
}  # fmt: skip
"""Words of programming and shading languages and of spreadsheets, and what they are here: no guess by letters."""
NEAR_NAME = 0.78
"""How alike two names must be for one to be taken for the other."""
WRITTEN_SO = {
    "vec2": "a pair is written (x, y)", "vec3": "a colour is written (r, g, b)", "rgb": "a colour is written (r, g, b)",
    "vec4": "a colour is written (r, g, b, a)", "rgba": "a colour is written (r, g, b, a), each up to 255",
    "mod": "mod(a, b) is written a % b", "saturate": "saturate(x) is written clamp(x, 0, 1)",
    "atan": "atan(y) is written atan2(y, 1)", "if": "a choice is written one value if a test else another",
    "and": "and stands between two tests", "or": "or stands between two tests",
    "layer": 'a layer is named scene["Name"]', "sound": 'how loud a layer is, is scene["Name"].loudness',
    "to_scene": "to_scene(point) is written in_scene(point)",
    "from_scene": "from_scene(point) is written in_layer(point)",
}  # fmt: skip
OWN = ("position", "scale", "rotation", "opacity", "anchor")


@dataclass(frozen=True)
class Program:
    """A formula that was read: `run` gives its value; `layers` are the names of the layers that it reads, `around` says
    whether it reads anything else of the scene, and `names` are the words of the language that it uses."""

    text: str
    run: Run
    layers: frozenset[str]
    around: bool
    names: frozenset[str] = frozenset()

    @property
    def reads_base(self) -> bool:
        """Whether what the property is without the formula counts at all."""
        return "base" in self.names


@lru_cache(maxsize=4_096)
def read_alone(text: str) -> Program | FormulaProblem:
    """A formula, or what is wrong with its text, without looking for what mends it."""
    try:
        return _Reader(plain_lines(text)).program()
    except Faulty as faulty:
        return faulty.problem


def plain_lines(text: str) -> str:
    """A text whose lines are parted by line feeds alone, with nothing blank at their ends.

    >>> plain_lines("a = 1\\r\\na + t\\u00a0\\r")
    'a = 1\\na + t\\n'
    """
    return "\n".join(line.rstrip() for line in text.replace("\r\n", "\n").replace("\r", "\n").split("\n"))


def parsed(text: str) -> ast.Module:
    """The tree of a text; Faulty in words where it is none, or too long."""
    if len(text) > MOST_LETTERS:
        raise Faulty(
            FormulaProblem(
                sentence=f"A formula has at most {MOST_LETTERS:,} letters, and this one {len(text):,}.", end=2
            )
        )
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore", SyntaxWarning)
            return ast.parse(text, mode="exec")
    except SyntaxError as error:
        raise Faulty(unread(text, error)) from None
    except (ValueError, MemoryError, RecursionError):
        raise Faulty(FormulaProblem(sentence="This cannot be read as a formula.", end=2)) from None


def give_names(environment: Environment, count: int) -> None:
    """Evaluate the first lines of a formula, each of which gives a name."""
    environment.names = {}
    for place, (name, one) in enumerate(environment.lines[:count]):
        environment.done = place
        environment.names[name] = one(environment)
    environment.done = count


class _Reader:
    """Reads one text."""

    def __init__(self, text: str) -> None:
        self._text = text
        self._names: set[str] = set()
        self._layers: set[str] = set()
        self._around = False
        self._used: set[str] = set()
        self._nodes = 0
        self._free: set[int] = set()

    def program(self) -> Program:
        module = parsed(self._text)
        if not module.body:
            raise Faulty(
                FormulaProblem(sentence="The formula is empty. Write a value, such as base, or take it off.", end=2)
            )
        self._free = free_calls(module)
        given: list[tuple[str, Run]] = []
        for place, statement in enumerate(module.body):
            last = place == len(module.body) - 1
            if isinstance(statement, ast.Assign) and not last:
                given.append(self._named(statement))
            elif isinstance(statement, ast.Expr) and last:
                result = self._result(statement.value)
            elif last and isinstance(statement, ast.Assign):
                self._fault(statement, "The last line is the value; it has no name before it.")
            elif isinstance(statement, ast.Expr):
                self._fault(statement, "Only the last line is the value. Give this one a name: name = value.")
            else:
                self._fault(statement, "A formula is lines of name = value, and a value in the last line.")

        def run(environment: Environment) -> Any:
            environment.lines = given
            give_names(environment, len(given))
            return result(environment)

        return Program(self._text, run, frozenset(self._layers), self._around, frozenset(self._used))

    def _result(self, node: ast.AST) -> Run:
        inner = self._node(node, 0)

        def run(environment: Environment) -> Floats | Texts:
            value = plain(inner(environment))
            return texts(value) or numbers(value)

        return located(run, node)

    def _named(self, statement: ast.Assign) -> tuple[str, Run]:
        (target,) = statement.targets if len(statement.targets) == 1 else (None,)
        if not isinstance(target, ast.Name):
            self._fault(statement, "One name stands before each =.")
        if target.id in TABLE and not TABLE[target.id].yields:
            self._fault(target, f"'{target.id}' means something already. Choose another name.")
        run = self._node(statement.value, 0)
        self._names.add(target.id)
        return target.id, run

    def _fault(self, node: ast.AST, sentence: str, *mends: Mend) -> NoReturn:
        raise Faulty(
            FormulaProblem(
                sentence=sentence, line=getattr(node, "lineno", 1), column=getattr(node, "col_offset", 0) + 1,
                end=(getattr(node, "end_col_offset", None) or getattr(node, "col_offset", 0) + 1) + 1, mends=mends,
            )
        )  # fmt: skip

    def put(self, node: Any, words: str) -> str:
        """The text with other words in the place of a node of one line."""
        lines = self._text.split("\n")
        line = lines[node.lineno - 1].encode()
        lines[node.lineno - 1] = (line[: node.col_offset] + words.encode() + line[node.end_col_offset :]).decode()
        return "\n".join(lines)

    def _node(self, node: ast.AST, depth: int) -> Run:
        self._nodes += 1
        if self._nodes > MOST_NODES or depth > MOST_DEPTH:
            self._fault(node, "This formula is too long or too deep. Divide it between several names or layers.")
        kind = getattr(self, f"_{type(node).__name__.lower()}", None)
        if kind is None:
            self._fault(node, f"{_NODES.get(type(node), 'This')} cannot be written in a formula.")
        run: Run = kind(node, depth + 1)
        return located(run, node)

    def _constant(self, node: ast.Constant, depth: int) -> Run:
        value = node.value
        if isinstance(value, bool):
            return fixed(np.array([[float(value)]]))
        if isinstance(value, int | float):
            try:
                number = float(value)
            except OverflowError:
                self._fault(node, "This number is too large.")
            if not np.isfinite(number):
                self._fault(node, "This number is too large.")
            return fixed(np.array([[number]]))
        if isinstance(value, str):
            lowered = value.lower() + ("ff" if len(value) == 7 else "")
            if COLOUR.fullmatch(lowered):
                return fixed(np.array([list(bytes.fromhex(lowered[1:]))], dtype=np.float64))
            return lambda _: value
        self._fault(node, "Only numbers, texts and colours can be written here.")

    def _tuple(self, node: ast.Tuple, depth: int) -> Run:
        if not 2 <= len(node.elts) <= 4:
            self._fault(node, "A pair is (x, y), a colour (r, g, b) or (r, g, b, a).")
        parts = [self._node(part, depth) for part in node.elts]
        fill = [fixed(np.array([[255.0]]))] if len(parts) == 3 else []

        def run(environment: Environment) -> Floats:
            found = [numbers(part(environment)) for part in (*parts, *fill)]
            if any(one.shape[1] != 1 for one in found):
                raise Faulty(FormulaProblem(sentence="A pair is made of two numbers, and one of these is a pair."))
            return np.concatenate(np.broadcast_arrays(*found), axis=1)

        return run

    def _name(self, node: ast.Name, depth: int) -> Run:
        name = node.id
        if name in self._names:
            return lambda environment: environment.names[name]
        entry = TABLE.get(name)
        if entry is None:
            self._unknown(node, name, [*TABLE, *self._names])
        self._used.add(name)
        if entry.is_function:
            self._fault(node, f"{entry.written} is a function: it takes its numbers in brackets.")
        if name in ("index", "count", "scene", "beat"):
            self._around = True
        if name in ("pi", "tau"):
            return fixed(np.array([[np.pi * (1 if name == "pi" else 2)]]))
        if name in ("scene", "box", "unit_box", "beat"):
            if not name:
                self._fault(node, "")
            return lambda environment: environment.thing(name)
        if name in OWN:
            return lambda environment: environment.own(name)
        return lambda environment: environment.value(name)

    def _unknown(self, node: Any, name: str, known: list[str]) -> NoReturn:
        meant = MEANT.get(name) or MEANT.get(name.lower())
        low = name.lower()
        if low in WRITTEN_SO:
            meant = None
        near = [meant] if meant else [low] if low in known else difflib.get_close_matches(low, known, 1, NEAR_NAME)
        words = near[0] if near else colour_named(name)
        mends = [Mend(label=f"Write {words}", text=self.put(node, words))] if words else []
        if meant:
            self._fault(node, f"'{name}' is not known: here it is {meant}.", *mends)
        if low in WRITTEN_SO:
            self._fault(node, f"'{name}' is not known: {WRITTEN_SO[low]}.")
        hint = f" Did you mean {words}?" if words else ""
        self._fault(node, f"'{name}' is not known.{hint}", *mends)

    def _binop(self, node: ast.BinOp, depth: int) -> Run:
        operator = OPERATORS.get(type(node.op))
        if operator is None:
            self._fault(node, "Only + − * / // % and ** stand between two values.")
        left, right = self._node(node.left, depth), self._node(node.right, depth)
        if not isinstance(node.op, ast.Add):
            return lambda environment: operator(*alike(left(environment), right(environment)))

        def added(environment: Environment) -> Any:
            a, b = plain(left(environment)), plain(right(environment))
            words = texts(a), texts(b)
            if words[0] is not None and words[1] is not None:
                return joined(words[0], words[1])
            for text, number in ((words[0], node.right), (words[1], node.left)):
                if text is not None:
                    self._unwritten(number)
            return operator(*alike(a, b))

        return added

    def _unwritten(self, node: Any) -> NoReturn:
        """A number stands where a text is expected."""
        given = ast.get_source_segment(self._text, node) or ""
        mend = Mend(label='Write format(…, "0")', text=self.put(node, f'format({given}, "0")'))
        self._fault(node, 'A number becomes a text by format(value, "0.0").', mend)

    def _unaryop(self, node: ast.UnaryOp, depth: int) -> Run:
        inner = self._node(node.operand, depth)
        if isinstance(node.op, ast.Not):

            def turned(environment: Environment) -> Floats:
                given = numbers(inner(environment))
                return with_gaps((given == 0) * 1.0, given)

            return turned
        if isinstance(node.op, ast.USub | ast.UAdd):
            sign = -1.0 if isinstance(node.op, ast.USub) else 1.0
            return lambda environment: numbers(inner(environment)) * sign
        self._fault(node, "Only −, + and not stand before a value.")

    def _boolop(self, node: ast.BoolOp, depth: int) -> Run:
        parts = [self._node(part, depth) for part in node.values]
        both = isinstance(node.op, ast.And)

        def run(environment: Environment) -> Floats:
            given = np.broadcast_arrays(*(numbers(part(environment)) for part in parts))
            known = [one != 0 for one in given]
            found = np.asarray((np.logical_and if both else np.logical_or).reduce(known) * 1.0)
            gaps = np.logical_or.reduce([np.isnan(one) for one in given])
            if not gaps.any():
                return found
            # What has no value decides nothing where another part decides alone.
            sure = np.logical_or.reduce([(one == 0) if both else ((one != 0) & ~np.isnan(one)) for one in given])
            return np.where(gaps & ~sure, np.nan, found)

        return run

    def _compare(self, node: ast.Compare, depth: int) -> Run:
        operators = [COMPARISONS.get(type(one)) for one in node.ops]
        if None in operators:
            self._fault(node, "Values are compared by < <= > >= == and !=.")
        parts = [self._node(part, depth) for part in (node.left, *node.comparators)]

        def run(environment: Environment) -> Floats:
            found = [numbers(part(environment)) for part in parts]
            truths = [one(*alike(a, b)) for one, a, b in zip(operators, found, found[1:], strict=False) if one]
            return with_gaps(np.logical_and.reduce(np.broadcast_arrays(*truths)) * 1.0, *found)

        return run

    def _ifexp(self, node: ast.IfExp, depth: int) -> Run:
        test, yes, no = (self._node(part, depth) for part in (node.test, node.body, node.orelse))

        def run(environment: Environment) -> Any:
            choice = numbers(test(environment))
            if choice.shape[1] != 1:
                raise Faulty(FormulaProblem(sentence="What stands after if is one number, and this is a pair."))
            first, second = plain(yes(environment)), plain(no(environment))
            words = texts(first), texts(second)
            if words[0] is not None and words[1] is not None:
                return chosen(choice, words[0], words[1])
            a, b = alike(first, second)
            return with_gaps(np.where(choice != 0, a, b), choice)

        return run

    def _subscript(self, node: ast.Subscript, depth: int) -> Run:
        at = node.slice
        if isinstance(node.value, ast.Name) and node.value.id == "scene":
            return self._layer(at)
        if not isinstance(at, ast.Constant) or not isinstance(at.value, int) or isinstance(at.value, bool):
            self._fault(node, "A part of a pair is [0] or [1].")
        inner, index = self._node(node.value, depth), at.value
        return lambda environment: part_of(numbers(inner(environment)), index, str(index))

    def _layer(self, at: ast.expr) -> Run:
        """Another layer: scene["Name"]."""
        if not isinstance(at, ast.Constant) or not isinstance(at.value, str):
            self._fault(at, 'scene["Name"] takes the name of a layer in quotes.')
        name = at.value
        self._layers.add(name)
        self._around = True
        return lambda environment: environment.layer(name, lambda near: self.put(at, f'"{near}"'))

    def _attribute(self, node: ast.Attribute, depth: int) -> Run:
        name = node.attr
        if name.startswith("_"):
            self._fault(node, f"'{name}' is not known.")
        inner = self._node(node.value, depth)

        def run(environment: Environment) -> Any:
            value = inner(environment)
            if isinstance(value, Reference) and value.has_parts:
                return value.part(name)
            if name not in PARTS:
                raise Faulty(FormulaProblem(sentence=f"A value has the parts x and y, and no '{name}'."))
            return part_of(numbers(value), PARTS[name], name)

        return run

    def _call(self, node: ast.Call, depth: int) -> Run:
        if isinstance(node.func, ast.Attribute):
            return self._method(node, node.func, depth)
        if not isinstance(node.func, ast.Name):
            self._fault(node, "Only functions by their names are called.")
        name = node.func.id
        entry = TABLE.get(name)
        if entry is None:
            self._unknown(node.func, name, [one for one, about in TABLE.items() if about.is_function])
        if not isinstance(entry, Function):
            self._fault(node, f"'{name}' is a value and takes nothing in brackets.")
        given = len(node.args)
        if any(isinstance(one, ast.Starred) for one in node.args) or not entry.least <= given <= entry.most:
            count = str(entry.least) if entry.least == entry.most else f"{entry.least} to {entry.most}"
            self._fault(
                node, f"{entry.written} takes {count} value{'' if count == '1' else 's'}, and {given} were given."
            )
        for keyword in node.keywords:
            if keyword.arg not in entry.named:
                self._fault(node, f"{entry.written} knows no '{keyword.arg or '**'}'.")
        arguments = [self._node(part, depth) for part in node.args]
        named = {str(one.arg): self._node(one.value, depth) for one in node.keywords}
        free = id(node) in self._free
        return lambda environment: entry.run(Call(environment, arguments, named, free))

    def _method(self, node: ast.Call, function: ast.Attribute, depth: int) -> Run:
        if function.attr not in ("at", "in_scene", "in_layer") or node.keywords:
            if isinstance(function.value, ast.Name) and function.value.id in LIBRARIES:
                self._fault(node, f"{function.value.id}. is left out: functions stand by themselves.")
            if function.attr in WRITTEN_SO:
                self._fault(node, f"'{function.attr}' is not known: {WRITTEN_SO[function.attr]}.")
            self._fault(node, f"'{function.attr}' cannot be called; at(…) gives a value at another moment.")
        inner = self._node(function.value, depth)
        arguments = [self._node(part, depth) for part in node.args]

        def run(environment: Environment) -> Any:
            value = inner(environment)
            if function.attr != "at":
                if not isinstance(value, Reference) or len(arguments) != 1:
                    words = (
                        f'{function.attr}(point) stands alone, or follows a layer: scene["Name"].{function.attr}(…).'
                    )
                    raise Faulty(FormulaProblem(sentence=words))
                return value.placed(function.attr, numbers(arguments[0](environment)))
            if not isinstance(value, Reference):
                raise Faulty(FormulaProblem(sentence="at(…) follows a property, as in rotation.at(t - 0.2)."))
            return value.at(*(numbers(one(environment)) for one in arguments))

        return run


_NODES: dict[type[ast.AST], str] = {
    ast.List: "A list [a, b]", ast.Dict: "{…}", ast.Set: "{…}", ast.Lambda: "lambda", ast.ListComp: "for",
    ast.GeneratorExp: "for", ast.JoinedStr: 'f"…"', ast.Starred: "*", ast.Await: "await", ast.NamedExpr: ":=",
}  # fmt: skip


def colour_named(name: str) -> str:
    """A colour of CSS by its name, as it is written in formulas; empty where there is none."""
    found = parse_color(name) if name.isalpha() else None
    parts = getattr(found, "coordinates", None)
    if parts is None or len(parts) != 3 or found is None:
        return ""
    return '"#' + "".join(f"{round(float(part or 0) * 255):02x}" for part in parts) + '"'


def fixed(value: Floats) -> Run:
    """What is the same at every frame."""
    return lambda _: value


def located(run: Run, node: Any) -> Run:
    """What is wrong while it is evaluated is told of the place where it stands."""
    line, column = node.lineno, node.col_offset + 1
    end = (node.end_col_offset or node.col_offset) + 1

    def at_its_place(environment: Environment) -> Any:
        try:
            return run(environment)
        except Faulty as faulty:
            problem = faulty.problem
            if type(faulty) is Faulty and (problem.line, problem.column, problem.end) == (1, 1, 1):
                raise Faulty(problem.model_copy(update={"line": line, "column": column, "end": end})) from None
            raise

    return at_its_place
