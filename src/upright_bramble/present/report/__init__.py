"""The calculation report of one or several results: one content, three forms."""

from __future__ import annotations

from upright_bramble.present.report.content import DEPTHS, TOPICS, report_of

FORMATS = ("html", "pdf", "md")

__all__ = ["DEPTHS", "FORMATS", "TOPICS", "report_of", "written"]


def written(report: dict[str, object], kind: str) -> bytes:
    """The bytes of a report in a format; the heavy libraries are imported here."""
    if kind == "html":
        from upright_bramble.present.report.html import html

        return html(report)
    if kind == "pdf":
        from upright_bramble.present.report.pdf import pdf

        return pdf(report)
    from upright_bramble.present.report.markdown import markdown

    return markdown(report)
