"""XML from strangers: no entities, no declarations of its own."""

import re
from xml.etree.ElementTree import Element, ParseError

from defusedxml import ElementTree as Defused
from defusedxml.common import DefusedXmlException

from adze.formats.errors import FormatError

_GROWS = "declares entities or a DTD of its own, which is not taken; export it anew"


def read_xml(content: bytes, word: str) -> Element:
    """The root of an XML file. Raises FormatError for what is no XML, or tries to grow."""
    try:
        root: Element = Defused.fromstring(content, forbid_dtd=True)
    except DefusedXmlException as error:
        raise FormatError(f"{word}: {_GROWS}") from error
    except (ParseError, ValueError, LookupError, RecursionError) as error:
        raise FormatError(f"{word}: is not whole XML ({error}); it may be cut off, export it again") from error
    return root


_DECLARES = re.compile(rb"<!(DOCTYPE|ENTITY|ELEMENT|ATTLIST)", re.IGNORECASE)


def refuse_declarations(content: bytes, word: str) -> None:
    """Refuse what could grow, before a reader that knows no such limit sees it. Raises FormatError."""
    if _DECLARES.search(content):
        raise FormatError(f"{word}: {_GROWS}")


def local(tag: object) -> str:
    """A tag without its namespace."""
    return tag.rsplit("}", 1)[-1] if isinstance(tag, str) else ""
