"""Report: what leaves the bench.

For: the job sheet's model and its HTML, readings as CSV, the whole job as JSON.
May import: what it prints: `plan`, `journal`, `board`, `checks`, `units`; Jinja2.
Must not import: Qt, SQL.
"""

from bench_lamp.report.exports import job_json, readings_csv
from bench_lamp.report.html import sheet_html
from bench_lamp.report.names import name_of
from bench_lamp.report.sheet import Sheet, make_sheet

__all__ = ["Sheet", "job_json", "make_sheet", "name_of", "readings_csv", "sheet_html"]
