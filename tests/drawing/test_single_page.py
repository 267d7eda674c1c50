"""A page as one file: nothing in it can break out, and nothing else can get in."""

from __future__ import annotations

import base64
import hashlib
import json
import re
from pathlib import Path

import pytest

from yarrowdew.drawing import built as building
from yarrowdew.drawing import single_page as module
from yarrowdew.drawing.built import DrawingError


@pytest.fixture
def built(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    (tmp_path / "viewer").mkdir()
    (tmp_path / "viewer" / "viewer.js").write_text(
        "const end = '</script><!-- x'; show()", encoding="utf-8"
    )
    (tmp_path / "viewer" / "viewer.css").write_text("body { margin: 0 }", encoding="utf-8")
    monkeypatch.setattr(building, "BUILT", tmp_path)
    return tmp_path


def test_what_is_shared_cannot_break_out_of_its_place(built: Path) -> None:
    shared = json.dumps({"title": "</script><script>alert(1)</script><!--"})
    page = module.single_page("<b>&amp;", shared)
    scripts = re.findall(r"<script[^>]*>(.*?)</script>", page, re.DOTALL)
    assert len(scripts) == 2
    assert json.loads(scripts[0]) == json.loads(shared)
    assert "<title>&lt;b&gt;&amp;amp;</title>" in page
    assert "<!--" not in page


def test_its_policy_allows_its_own_script_and_no_connection(built: Path) -> None:
    page = module.single_page("Page", "{}")
    policy = re.search(r'Content-Security-Policy" content="([^"]*)"', page)
    assert policy is not None
    script = re.findall(r"<script>(.*?)</script>", page, re.DOTALL)[0]
    digest = base64.b64encode(hashlib.sha256(script.encode()).digest()).decode()
    assert f"script-src 'sha256-{digest}'" in policy[1]
    assert "default-src 'none'" in policy[1]
    assert "connect-src" not in policy[1]
    assert "http" not in policy[1]


def test_where_the_front_end_is_not_built_it_is_said(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(building, "BUILT", tmp_path / "nowhere")
    with pytest.raises(DrawingError, match="not built"):
        module.single_page("Page", "{}")
