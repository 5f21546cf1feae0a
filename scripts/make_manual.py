"""Makes the manual, as one HTML file and as PDF, of the help's chapters and the pictures: build/manual/."""

from __future__ import annotations

import base64
import os
import re
import sys
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import QMarginsF, QSizeF
from PySide6.QtGui import QFont, QPageLayout, QPageSize, QPdfWriter, QTextDocument
from PySide6.QtWidgets import QApplication

from gingham import __version__
from gingham.app.look import theme
from gingham.app.shell.actions import ACTIONS
from gingham.words.actions import key_lines
from gingham.words.chapters import Chapter, chapters

ROOT = Path(__file__).parents[1]
PICTURES = ROOT / "docs" / "screenshots"
_WIDE, _POINTS, _DPI, _MARGIN = 640, 10.5, 96, 18


def whole() -> tuple[Chapter, ...]:
    """Every chapter, with its pictures and the keys as the program has them."""
    keys = key_lines([(action.key, action.text) for action in ACTIONS if action.key])
    return chapters(keys, pictures=True)


def commands() -> list[str]:
    """Every command line in the manual."""
    return [line for chapter in whole() for line in chapter.text.splitlines() if line.startswith("gingham ")]


def pictures() -> list[str]:
    """Every picture that a chapter shows."""
    return [name for chapter in whole() for name in re.findall(r"!\[[^]]*\]\(([^)]*)\)", chapter.text)]


def as_html() -> str:
    """The manual as one file: contents, chapters, pictures inside."""
    parts = [f"<h1>Gingham {__version__}: the manual</h1>", "<ol>"]
    found = whole()
    parts += [f'<li><a href="#c{n}">{chapter.title}</a></li>' for n, chapter in enumerate(found)]
    parts.append("</ol>")
    for number, chapter in enumerate(found):
        document = QTextDocument()
        document.setMarkdown(chapter.text)
        body = re.sub(r"(?s).*<body[^>]*>(.*)</body>.*", r"\1", document.toHtml())
        if "](" in chapter.text:  # a heading stays with its picture
            body = body.replace('<h1 style="', '<h1 style="page-break-before:always; ', 1)
        parts.append(f'<a name="c{number}" id="c{number}"></a>{body}')
    return re.sub(r'<img src="([^"]*)"[^>]*>', _embedded, "\n".join(parts))


def _embedded(found: re.Match[str]) -> str:
    data = base64.b64encode((PICTURES / found[1]).read_bytes()).decode()
    return f'<img width="{_WIDE}" src="data:image/png;base64,{data}" alt="{found[1]}">'


def write(folder: Path) -> tuple[Path, Path, int]:
    """Both files, and how many pages the PDF has."""
    folder.mkdir(parents=True, exist_ok=True)
    html = as_html()
    head = f'<!doctype html><html lang="en"><meta charset="utf-8"><title>Gingham {__version__}</title>'
    style = (
        "<style>body{max-width:44rem;margin:2rem auto;padding:0 1rem;font:1rem/1.5 sans-serif}"
        "img{max-width:100%;height:auto}</style>"
    )
    (folder / "manual.html").write_text(f"{head}{style}<body>{html}</body></html>\n", encoding="utf-8")
    page = QPageSize(QPageSize.PageSizeId.A4)
    margins = QMarginsF(_MARGIN, _MARGIN, _MARGIN, _MARGIN)
    layout = QPageLayout(page, QPageLayout.Orientation.Portrait, margins, QPageLayout.Unit.Millimeter)
    writer = QPdfWriter(str(folder / "manual.pdf"))
    writer.setResolution(_DPI)
    writer.setPageLayout(layout)
    writer.setTitle(f"Gingham {__version__}: the manual")
    letters = QFont(theme.font(_POINTS))
    letters.setPointSizeF(_POINTS)
    document = QTextDocument()
    document.setDefaultFont(letters)
    document.setHtml(re.sub(r"font-size:[^;]*;|font-family:[^;]*;", "", html))
    document.setPageSize(QSizeF(layout.paintRectPixels(_DPI).size()))
    document.print_(writer)
    pages = document.pageCount()
    return folder / "manual.html", folder / "manual.pdf", pages


if __name__ == "__main__":
    _app = QApplication([])
    theme.load_fonts()
    made = write(Path(sys.argv[1]) if len(sys.argv) > 1 else ROOT / "build" / "manual")
    print(*made[:2], f"{made[2]} pages", sep="\n")
