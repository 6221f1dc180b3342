"""Write the JSON Schema of the study file to docs/. Run after a change to ragwort.study.document:
.venv/bin/python tools/write_schema.py
"""

from __future__ import annotations

import json
from pathlib import Path

from ragwort.study.document.model import Study

TARGET = Path(__file__).parents[1] / "docs" / "study-file.schema.json"

if __name__ == "__main__":
    TARGET.write_text(json.dumps(Study.model_json_schema(), indent=2, ensure_ascii=False) + "\n")
