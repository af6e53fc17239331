"""A small backend that answers with the bodies of the packs: python3 server.py FOLDER [PORT], the folder with the packs.

It takes visitor passes at POST /passes and checks them by itself, as backends do.
"""

import datetime
import json
import re
import sys
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer

from error_texts import body, fields_answer, load, preferred, problem_answer

LARGEST = 64 * 1024
EMAIL = re.compile(r"[^\s@]+@[^\s@]+\.[^\s@]+")


def is_date(text):
    try:
        return bool(re.fullmatch(r"\d{4}-\d\d-\d\d", text)) and bool(datetime.date.fromisoformat(text))
    except ValueError:
        return False


def violations_of(visit):
    """All that is wrong with a visitor pass, in the order of its fields."""
    if not isinstance(visit, dict):
        yield {"path": "", "rule": "type", "params": {"expected": "object"}}
        return
    for name, form in (("visitor", None), ("email", EMAIL.fullmatch), ("day", is_date)):
        value = visit.get(name)
        if value is None or (isinstance(value, str) and not value.strip()):
            yield {"path": name, "rule": "required"}
        elif not isinstance(value, str):
            yield {"path": name, "rule": "type" if name != "day" else "format", "value": value}
        elif form and not form(value):
            yield {"path": name, "rule": "format", "value": value}
    guests = visit.get("guests")
    if isinstance(guests, bool) or not isinstance(guests, (int, type(None))):
        yield {"path": "guests", "rule": "type", "value": guests}
    elif guests is not None and not 0 <= guests <= 5:
        yield {"path": "guests", "rule": "minimum" if guests < 0 else "maximum", "value": guests}


class Handler(BaseHTTPRequestHandler):
    protocol_version = "HTTP/1.1"
    languages = {}

    def sentences(self):
        locale = preferred(self.headers.get("Accept-Language"), self.languages)
        return locale, self.languages[locale]

    def answer(self, status, text, media="application/json", **headers):
        content = text.encode()
        self.send_response(status)
        self.send_header("Content-Type", media)
        self.send_header("Content-Length", str(len(content)))
        for name, value in headers.items():
            self.send_header(name.replace("_", "-"), value)
        self.end_headers()
        if self.command != "HEAD":
            self.wfile.write(content)

    def refuse(self, sentences, answer, **headers):
        told = {"Content_Language": answer["locale"], "Vary": "Accept-Language", **headers}
        media, text = body(sentences, answer)
        self.answer(answer["status"], text, media, **told)

    def refuse_with(self, problem, params=None, **headers):
        _, sentences = self.sentences()
        self.refuse(sentences, problem_answer(sentences, problem, params or {}), **headers)

    def do_POST(self):
        try:
            self.take()
        except ConnectionError:
            self.close_connection = True
        except Exception as error:  # whatever it is, a client is told nothing of it
            print(repr(error), file=sys.stderr)
            self.close_connection = True
            self.refuse_with("unexpected", Connection="close")

    def take(self):
        length = self.headers.get("Content-Length", "")
        if not length.isdecimal() or int(length) > LARGEST:
            self.close_connection = True
            return self.refuse_with("too-large" if length.isdecimal() else "empty-body", Connection="close")
        content = self.rfile.read(int(length))
        if self.path != "/passes":
            return self.refuse_with("not-found")
        if not content:
            return self.refuse_with("empty-body")
        if self.headers.get_content_type() != "application/json":
            return self.refuse_with("wrong-media-type", Accept="application/json")
        try:
            visit = json.loads(content.decode())
        except json.JSONDecodeError as error:
            return self.refuse_with("malformed-body", {"line": error.lineno, "column": error.colno})
        except (UnicodeDecodeError, RecursionError):
            return self.refuse_with("malformed-body")
        found = list(violations_of(visit))
        if not found:
            return self.answer(201, json.dumps({"pass": visit["visitor"]}, ensure_ascii=False))
        _, sentences = self.sentences()
        return self.refuse(sentences, fields_answer(sentences, "visitor-pass", found))

    def do_GET(self):
        self.refuse_with("wrong-method" if self.path == "/passes" else "not-found", Allow="POST")

    do_HEAD = do_OPTIONS = do_PUT = do_PATCH = do_DELETE = do_GET

    def log_message(self, *about):
        pass


if __name__ == "__main__":
    Handler.languages = load(sys.argv[1])
    server = ThreadingHTTPServer(("127.0.0.1", int(sys.argv[2]) if len(sys.argv) > 2 else 8080), Handler)
    print(f"http://127.0.0.1:{server.server_port}/passes", flush=True)
    server.serve_forever()
