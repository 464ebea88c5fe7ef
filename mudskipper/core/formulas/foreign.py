"""Texts as other programming languages, shading languages and spreadsheets write them, read by a grammar of their own
and written as formulas.

What is read becomes a tree, which is written and then read again by Python's parser: only where both trees are the same
does the formula mean what the text meant.
"""

from __future__ import annotations

import ast
import re
from dataclasses import dataclass
from typing import Any

from .earlier import WORDS
from .table import TABLE

Tree = tuple[Any, ...]
"""("number", text), ("text", words), ("name", name), ("call", name, trees), ("part", tree, name), ("item", tree, tree),
("tuple", trees), (operator, tree, tree), ("-" | "not", tree), ("if", test, yes, no)."""

TOKEN = re.compile(
    r"""
    (?P<space>[ \t\r\u00a0\u2007\u202f\u3000]+) | (?P<line>\n|\u2028|\u0085)
  | (?P<comment>//(?=[ \t]*[A-Za-z])[^\n]*|/\*.*?\*/)
  | (?P<colour>\#[0-9a-fA-F]{8}\b|\#[0-9a-fA-F]{6}\b|\#[0-9a-fA-F]{3}\b)
  | (?P<number>(?:\d+\.\d*|\.\d+|\d+)(?:[eE][+-]?\d+)?)
  | (?P<name>[A-Za-z_π][\w]*)
  | (?P<text>"[^"\n]*"|'[^'\n]*'|“[^”\n]*”|‘[^’\n]*’|„[^“\n]*“)
  | (?P<mark>===|!==|\*\*|//|&&|\|\||==|!=|<>|<=|>=|[-+*/%^<>=!?:;,.(){}\[\]×·÷−²³°≤≥≠])
""",
    re.VERBOSE | re.DOTALL,
)
SAME = {
    "===": "==", "!==": "!=", "<>": "!=", "≤": "<=", "≥": ">=", "≠": "!=", "×": "*", "·": "*", "÷": "/", "−": "-",
    "&&": "and", "||": "or", "^": "**",
}  # fmt: skip
UNITS = ("px", "deg", "s", "f", "fr")
NAMES = {
    "true": ("number", "1"), "True": ("number", "1"), "TRUE": ("number", "1"), "false": ("number", "0"),
    "False": ("number", "0"), "FALSE": ("number", "0"), "PI": ("name", "pi"), "TAU": ("name", "tau"),
    "π": ("name", "pi"), "M_PI": ("name", "pi"), "time": ("name", "t"), "value": ("name", "base"),
}  # fmt: skip
"""Words of other languages, and what they are here."""
CALLS = {
    "lerp": "mix", "deg": "degrees", "rad": "radians", "ceiling": "ceil", "frac": "fract", "fabs": "abs",
    "power": "pow", "ln": "log", "rounddown": "floor", "roundup": "ceil", "len": "length", "norm": "length",
}  # fmt: skip
LIBRARIES = ("Math", "math", "np", "numpy")
DECLARING = ("var", "let", "const", "float", "int", "double", "vec2", "vec3", "vec4", "number", "auto")
RANKS = {
    "or": 2, "and": 3, "==": 5, "!=": 5, "<": 5, "<=": 5, ">": 5, ">=": 5, "+": 6, "-": 6, "*": 7, "/": 7, "%": 7,
    "//": 7, "**": 9,
}  # fmt: skip
"""How tightly operators bind, in all of these languages; `?:` is 1, `not` 4, a sign 8."""
OPERATORS: dict[type[ast.AST], str] = {
    ast.Add: "+", ast.Sub: "-", ast.Mult: "*", ast.Div: "/", ast.Mod: "%", ast.FloorDiv: "//", ast.Pow: "**",
    ast.Eq: "==", ast.NotEq: "!=", ast.Lt: "<", ast.LtE: "<=", ast.Gt: ">", ast.GtE: ">=", ast.And: "and", ast.Or: "or",
}  # fmt: skip


class Unread(Exception):
    """A text that is of none of these languages."""


@dataclass(frozen=True)
class Token:
    kind: str
    text: str
    end: int
    begin: int


def tokens_of(text: str) -> list[Token]:
    """The tokens of a text, without spaces and comments; Unread where something is none."""
    found: list[Token] = []
    at = 0
    while at < len(text):
        match = TOKEN.match(text, at)
        if match is None:
            raise Unread(text[at])
        kind = str(match.lastgroup)
        if kind not in ("space", "comment"):
            found.append(Token(kind, SAME.get(match[0], match[0]), match.end(), match.start()))
        at = match.end()
    return found


def translated(text: str) -> str | None:
    """A text of another language as a formula that means the same; None where it is of none, or cannot be said."""
    try:
        lines = _Reader(tokens_of(text.strip().removeprefix("=") if text.lstrip().startswith("=") else text)).program()
        written = "\n".join(f"{name} = {_written(tree)}" if name else _written(tree) for name, tree in lines)
        module = ast.parse(written)
        if [_canonical(tree) for _, tree in lines] != [_canonical(_tree(_value_of(one))) for one in module.body]:
            return None
    except (Unread, SyntaxError, ValueError, RecursionError, IndexError):
        return None
    return written


class _Reader:
    """Reads tokens as lines of name = value."""

    def __init__(self, tokens: list[Token]) -> None:
        self._tokens = tokens
        self._at = 0
        self._depth = 0

    def program(self) -> list[tuple[str, Tree]]:
        lines: list[tuple[str, Tree]] = []
        while self._skip_ends():
            lines.append(self._statement())
            if self._here() is not None and self._here_text() not in ("\n", ";", "}"):
                raise Unread(self._here_text())
        if not lines or any(not name for name, _ in lines[:-1]):
            raise Unread("")
        name, tree = lines[-1]
        return [*lines[:-1], ("", tree)] if name else lines

    def _skip_ends(self) -> bool:
        while self._here() is not None and (self._here_text() in ("\n", ";")):
            self._at += 1
        return self._here() is not None

    def _here(self, ahead: int = 0) -> Token | None:
        return self._tokens[self._at + ahead] if self._at + ahead < len(self._tokens) else None

    def _here_text(self, ahead: int = 0) -> str:
        found = self._here(ahead)
        return "" if found is None else found.text

    def _take(self, *wanted: str) -> str:
        """The next token's text, which is one of those wanted, where any are named. Lines end nowhere in brackets."""
        while self._depth and self._here_text() == "\n":
            self._at += 1
        found = self._here_text()
        if not found or (wanted and found not in wanted):
            raise Unread(found)
        self._at += 1
        return found

    def _next_is(self, *texts: str) -> bool:
        while self._depth and self._here_text() == "\n":
            self._at += 1
        found = self._here()
        return found is not None and found.kind in ("mark", "name") and found.text in texts

    def _statement(self) -> tuple[str, Tree]:
        if self._next_is("return"):
            self._take()
            return "", self._value()
        if self._next_is("if"):
            return self._choice()
        if self._here_text() in DECLARING and (after := self._here(1)) is not None and after.kind == "name":
            self._take()
        name = self._here()
        if name is not None and name.kind == "name" and self._here_text(1) == "=" and name.text not in TABLE:
            self._take()
            self._take("=")
            return name.text, self._value()
        return "", self._value()

    def _choice(self) -> tuple[str, Tree]:
        """if (test) { yes } else { no }"""
        self._take("if")
        test = self._primary() if self._next_is("(") else self._value()
        name, yes = self._block()
        while self._here_text() in ("\n", ";"):
            self._at += 1
        self._take("else")
        other, no = self._choice() if self._next_is("if") else self._block()
        if name != other:
            raise Unread("else")
        return name, ("if", test, yes, no)

    def _block(self) -> tuple[str, Tree]:
        braces = self._next_is("{")
        if braces:
            self._take("{")
        self._skip_ends()
        found = self._statement()
        while self._here_text() in ("\n", ";") and (braces or self._here_text(1) == "else"):
            self._at += 1
        if braces:
            self._take("}")
        return found

    def _value(self) -> Tree:
        test = self._binary(2)
        if self._next_is("?"):
            self._take("?")
            yes = self._value()
            self._take(":")
            return "if", test, yes, self._value()
        if self._next_is("if"):
            self._take("if")
            condition = self._binary(2)
            self._take("else")
            return "if", condition, test, self._value()
        return test

    def _binary(self, least: int) -> Tree:
        if self._next_is("not"):
            self._take("not")
            left: Tree = ("not", self._binary(5))
        else:
            left = self._unary()
        compared = False
        while True:
            sign = "==" if self._next_is("=") else next((one for one in RANKS if self._next_is(one)), "")
            rank = RANKS.get(sign, 0)
            if rank < least or not sign:
                return left
            if rank == 5 and compared:
                raise Unread(sign)
            compared = rank == 5
            self._take()
            left = (sign, left, self._binary(rank if sign == "**" else rank + 1))

    def _unary(self) -> Tree:
        if self._next_is("-", "+"):
            sign = self._take()
            inner = self._binary(9) if not self._next_is("-", "+", "!") else self._unary()
            return ("-", inner) if sign == "-" else inner
        if self._next_is("!"):
            self._take()
            return "not", self._unary()
        return self._power(self._primary())

    def _power(self, found: Tree) -> Tree:
        while self._next_is("²", "³"):
            found = ("**", found, ("number", "2" if self._take() == "²" else "3"))
        return found

    def _primary(self) -> Tree:
        while self._depth and self._here_text() == "\n":
            self._at += 1
        token = self._here()
        if token is None:
            raise Unread("")
        if token.kind == "number":
            return self._number()
        if token.kind == "colour":
            self._take()
            given = token.text[1:]
            return "text", "#" + ("".join(2 * one for one in given) if len(given) == 3 else given).lower()
        if token.kind == "text":
            self._take()
            return self._parts(("text", token.text[1:-1]))
        if token.text in ("(", "["):
            return self._parts(self._bracketed(token.text))
        if token.kind != "name" or token.text in ("if", "else", "return", "and", "or", "not"):
            raise Unread(token.text)
        return self._parts(self._named())

    def _number(self) -> Tree:
        token = self._here()
        assert token is not None
        text = self._take()
        after, digits = self._here(), self._here(1)
        close = after is not None and after.begin == token.end
        numbers = digits is not None and digits.kind == "number" and digits.text.isdigit() and text.isdigit()
        if (
            close
            and after
            and digits
            and after.text == ","
            and digits.begin == after.end
            and numbers
            and not self._depth
        ):
            # A decimal comma: 1,5.
            self._take(",")
            text, close = f"{text}.{self._take()}", False
            after = self._here()
        if (
            self._next_is("°")
            or (self._next_is("%") and not self._operand(1))
            or (close and after is not None and after.kind == "name" and after.text in UNITS and not self._called(1))
        ):
            self._take()
        elif close and after is not None and (after.kind == "name" or after.text == "("):
            return "*", ("number", _plain(text)), self._power(self._primary())
        return "number", _plain(text)

    def _operand(self, ahead: int) -> bool:
        """Whether what stands some tokens on begins a value."""
        found = self._here(ahead)
        return found is not None and (found.kind in ("number", "name", "text", "colour") or found.text == "(")

    def _called(self, ahead: int) -> bool:
        return self._here_text(ahead) == "("

    def _bracketed(self, opening: str) -> Tree:
        closing = ")" if opening == "(" else "]"
        found = self._list(opening, closing)
        if len(found) == 1 and opening == "(":
            return found[0]
        if len(found) < 2:
            raise Unread(opening)
        return "tuple", tuple(found)

    def _list(self, opening: str, closing: str) -> list[Tree]:
        self._take(opening)
        self._depth += 1
        found: list[Tree] = []
        while not self._next_is(closing):
            found.append(self._value())
            if not self._next_is(closing):
                self._take(",", ";")
        self._take(closing)
        self._depth -= 1
        return found

    def _named(self) -> Tree:
        name = self._take()
        if name in LIBRARIES and self._next_is("."):
            self._take(".")
            name = self._take()
            if name == "E":
                return "call", "exp", (("number", "1"),)
            if name == "random":
                self._list("(", ")")
                return "call", "random", (("number", "1"),)
        if not self._next_is("("):
            return NAMES.get(name, ("name", name))
        given = self._list("(", ")")
        if name in ("layer", "sound") and len(given) == 1 and given[0][0] in ("text", "name"):
            found: Tree = ("item", ("name", "scene"), ("text", given[0][1]))
            if name == "sound" and self._next_is(".") and self._here_text(1) == "level":
                self._at += 2
                found = ("part", found, "loudness")
            return found
        return _called(name, given)

    def _parts(self, found: Tree) -> Tree:
        while True:
            if self._next_is("."):
                self._take(".")
                name = self._take()
                if self._next_is("("):
                    given = self._list("(", ")")
                    if name == "toFixed" and len(given) == 1 and given[0][0] == "number" and given[0][1].isdigit():
                        places = int(given[0][1])
                        found = ("call", "format", (found, ("text", "0" + ("." + "0" * places if places else ""))))
                    else:
                        found = ("method", found, WORDS.get(name, name), tuple(given))
                else:
                    found = ("part", found, name)
            elif self._next_is("["):
                (inner,) = self._list("[", "]")
                found = ("item", found, inner)
            else:
                return self._power(found)


def _called(name: str, given: list[Tree]) -> Tree:
    """A call of a function by its name in any of these languages."""
    low = name.lower()
    count = len(given)
    if low == "if" and count == 3:
        return "if", given[0], given[1], given[2]
    if low in ("and", "or") and count > 1:
        tree = given[0]
        for one in given[1:]:
            tree = (low, tree, one)
        return tree
    if low == "not" and count == 1:
        return "not", given[0]
    if low in ("vec2", "float2") and count in (1, 2):
        return "tuple", (given[0], given[-1])
    if low in ("rgb", "rgba") and count in (3, 4):
        alpha = [_alpha(one) for one in given[3:]]
        return "tuple", (*given[:3], *alpha)
    if low == "mod" and count == 2:
        return "%", given[0], given[1]
    if low == "saturate" and count == 1:
        return "call", "clamp", (given[0], ("number", "0"), ("number", "1"))
    if low == "atan" and count in (1, 2):
        return "call", "atan2", (given[0], given[1] if count == 2 else ("number", "1"))
    if low == "float" and count == 1:
        return given[0]
    ours = WORDS.get(name) or (name if name in TABLE else low if low in TABLE else CALLS.get(low, name))
    return "call", ours, tuple(given)


def _alpha(tree: Tree) -> Tree:
    """The fourth number of a colour, a share in CSS, in 0…255."""
    if tree[0] == "number" and float(tree[1]) <= 1:
        return "number", f"{float(tree[1]) * 255:g}"
    return tree


def _plain(number: str) -> str:
    text = number.rstrip(".") if number.endswith(".") else number
    return f"0{text}" if text.startswith(".") else text


def _written(tree: Tree, least: int = 0) -> str:
    """A tree as a formula, in brackets where it binds less tightly than `least`."""
    kind = tree[0]
    if kind in ("number", "name"):
        return str(tree[1])
    if kind == "text":
        return '"' + str(tree[1]).replace("\\", "\\\\").replace('"', '\\"') + '"'
    if kind == "call":
        return f"{tree[1]}({', '.join(_written(one, 1) for one in tree[2])})"
    if kind == "part":
        return f"{_written(tree[1], 10)}.{tree[2]}"
    if kind == "method":
        return f"{_written(tree[1], 10)}.{tree[2]}({', '.join(_written(one, 1) for one in tree[3])})"
    if kind == "item":
        return f"{_written(tree[1], 10)}[{_written(tree[2])}]"
    if kind == "tuple":
        return f"({', '.join(_written(one, 1) for one in tree[1])})"
    if kind == "if":
        words, rank = f"{_written(tree[2], 2)} if {_written(tree[1], 2)} else {_written(tree[3], 1)}", 1
    elif kind == "not":
        words, rank = f"not {_written(tree[1], 8)}", 4
    elif len(tree) == 2:
        words, rank = f"-{_written(tree[1], 9)}", 8
    else:
        rank = RANKS[kind]
        right = _written(tree[2], rank if kind == "**" else rank + 1)
        words = f"{_written(tree[1], rank + 1 if kind == '**' or rank == 5 else rank)} {kind} {right}"
    return f"({words})" if rank < least else words


def _value_of(statement: ast.stmt) -> ast.expr:
    if isinstance(statement, ast.Assign | ast.Expr):
        return statement.value
    raise Unread("")


def _tree(node: ast.expr) -> Tree:
    """What Python's parser makes of a formula, as a tree of the same kind."""
    match node:
        case ast.Constant(value=str(words)):
            return "text", words
        case ast.Constant():
            return "number", repr(node.value)
        case ast.Name(id=name):
            return "name", name
        case ast.Call(func=ast.Name(id=name), args=given):
            return "call", name, tuple(_tree(one) for one in given)
        case ast.Call(func=ast.Attribute(value=of, attr=name), args=given):
            return "method", _tree(of), name, tuple(_tree(one) for one in given)
        case ast.Attribute(value=of, attr=name):
            return "part", _tree(of), name
        case ast.Subscript(value=of, slice=inner):
            return "item", _tree(of), _tree(inner)
        case ast.Tuple(elts=parts):
            return "tuple", tuple(_tree(one) for one in parts)
        case ast.IfExp(test=test, body=yes, orelse=no):
            return "if", _tree(test), _tree(yes), _tree(no)
        case ast.UnaryOp(op=ast.Not(), operand=inner):
            return "not", _tree(inner)
        case ast.UnaryOp(op=ast.USub(), operand=inner):
            return "-", _tree(inner)
        case ast.BinOp(left=left, op=operator, right=right):
            return OPERATORS[type(operator)], _tree(left), _tree(right)
        case ast.Compare(left=left, ops=[operator], comparators=[right]):
            return OPERATORS[type(operator)], _tree(left), _tree(right)
        case ast.BoolOp(op=operator, values=[first, *others]):
            tree = _tree(first)
            for one in others:
                tree = (OPERATORS[type(operator)], tree, _tree(one))
            return tree
    raise Unread("")


def _canonical(tree: Any) -> Any:
    """A tree in which numbers are compared by what they are worth."""
    if not isinstance(tree, tuple):
        return tree
    if tree and tree[0] == "number":
        return "number", float(tree[1])
    return tuple(_canonical(part) for part in tree)
