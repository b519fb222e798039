"""What a document must keep: HTML by the parser of the standard and rules of access, PDF by its tags and its pages."""

import re
from html.parser import HTMLParser as Reader

import pikepdf
import pypdfium2
from tinyhtml5.parser import HTMLParser

HEADINGS = ("h1", "h2", "h3", "h4")


class Page(Reader):
    """Tags, ids, links and faults of a page."""

    def __init__(self, text):
        super().__init__()
        self.tags, self.ids, self.links, self.faults, self.level = [], [], [], [], 0
        self.feed(text)

    def handle_starttag(self, tag, attrs):
        given = dict(attrs)
        self.tags.append(tag)
        self.ids += [given["id"]] if "id" in given else []
        self.links += [v for k, v in attrs if k in ("src", "href", "xlink:href", "action")]
        if tag == "img" and not given.get("alt"):
            self.faults.append("a picture without words")
        if tag == "th" and "scope" not in given:
            self.faults.append("a head of a table without its scope")
        if tag == "html" and not given.get("lang"):
            self.faults.append("no language")
        if tag in HEADINGS:
            if int(tag[1]) > self.level + 1:
                self.faults.append(f"{tag} after h{self.level}")
            self.level = int(tag[1])


def sound_html(text):
    """The page, once it has no fault: no parse error by the HTML standard, heads with scope, pictures with words, no
    script, a content policy, unique ids, links that lead somewhere."""
    parser = HTMLParser()
    parser.parse(text)
    assert [error[1:] for error in parser.errors] == []
    page = Page(text)
    assert page.faults == []
    assert not {"script", "iframe", "object", "embed", "form"} & set(page.tags)
    assert "default-src 'none'" in text
    assert len(page.ids) == len(set(page.ids))
    assert [link for link in page.links if link.startswith("#") and link[1:] not in page.ids] == []
    assert len(re.findall("<main", text)) == 1
    return page


def sound_pdf(path):
    """The pages of a PDF as text, once it is tagged as PDF/UA asks: a title that is shown, a language, a tree of tags
    in which every figure has words and every cell belongs to a row."""
    with pikepdf.open(path) as pdf:
        root = pdf.Root
        assert bool(root.MarkInfo.Marked)
        assert str(root.Lang) == "en"
        assert bool(root.ViewerPreferences.DisplayDocTitle)
        assert str(pdf.docinfo.Title)
        with pdf.open_metadata() as meta:
            assert meta.get("pdfuaid:part") == "1"
        kinds = {}

        def walk(element, parent):
            kind = str(element.get("/S", ""))
            kinds.setdefault(kind, []).append(element)
            if kind == "/Figure":
                assert str(element.get("/Alt", "")), "a figure without words"
            if kind in ("/TD", "/TH"):
                assert parent in ("/TR", "/TD", "/TH"), parent
            children = element.get("/K")
            for child in children if isinstance(children, pikepdf.Array) else [children]:
                if isinstance(child, pikepdf.Dictionary) and "/S" in child:
                    walk(child, kind)

        walk(root.StructTreeRoot.K[0], "")
        assert kinds["/H1"]
    document = pypdfium2.PdfDocument(path)
    return [page.get_textpage().get_text_bounded() for page in document]
