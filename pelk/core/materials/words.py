"""What growers call things: a typed word to its material, and when to ask which is meant."""

import re
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from enum import StrEnum
from functools import cache
from typing import Protocol

from pelk.core.base.sources import cites
from pelk.core.base.tables import rows

# Letters of a word that people swap or drop: near enough to be asked about. [%]
NEAR_SCORE = 84.0
MOST_OFFERED = 8
# Never a part of a mix: they are poured, or sown on roots.
NOT_A_PART = frozenset(["liquid", "inoculant"])
# Where a bag of "compost" is a potting mix.
COMPOST_IS_A_BAG = frozenset(["GB", "IE", "ZA", "IN"])
BAG, COMPOST = "bagged-potting-mix", "compost"
DIGITS_JOINED = re.compile(r"(?<=\d)-(?=\d)")
NOT_WORD = re.compile(r"[^0-9a-z%.\u0001]+")
# Endings that look like plurals and are none.
SINGULAR_ENDS = ("ss", "us", "is")


class Box(StrEnum):
    """What is typed into: it says what kind of material can be meant."""

    PART = "part"
    DOSE = "dose"
    ANY = "any"


class Sense(StrEnum):
    """How a word was taken."""

    SURE = "sure"
    WHICH = "which"
    NEAR = "near"
    UNKNOWN = "unknown"


@dataclass(frozen=True, slots=True)
class Understood:
    """What a word may mean.

    Attributes
    ----------
    words : str
        As typed.
    sense : Sense
        Sure, or to be asked.
    slugs : tuple of str
        Of what may be meant, the likeliest first.
    note : str
        What to ask, or to know.
    """

    words: str
    sense: Sense
    slugs: tuple[str, ...] = ()
    note: str = ""

    @property
    def slug(self) -> str | None:
        """The one that is meant; None where it must be asked."""
        return self.slugs[0] if self.sense is Sense.SURE else None


class Named(Protocol):
    """What bears a name: a material, or as much of one as words need."""

    @property
    def slug(self) -> str:
        """Names it for good."""

    @property
    def name(self) -> str:
        """In full."""

    @property
    def short_name(self) -> str:
        """Without what stands in brackets."""

    @property
    def other_names(self) -> tuple[str, ...]:
        """What else it is called."""

    @property
    def role(self) -> str:
        """How it goes in."""


@dataclass(frozen=True, slots=True)
class Name:
    """As much of a material as words need."""

    slug: str
    name: str
    short_name: str
    other_names: tuple[str, ...]
    role: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Vocabulary:
    """What a yard may name, and how it speaks.

    Attributes
    ----------
    materials : mapping of str to Named
        By slug: the library and the yard's own.
    owned : frozenset of str
        Slugs of the shelf: they stand first.
    taught : mapping of str to str
        Words that the yard taught, to slugs; they win.
    region : str
        Territory, for what a word means there.
    """

    materials: Mapping[str, Named]
    owned: frozenset[str] = frozenset()
    taught: Mapping[str, str] = field(default_factory=dict)
    region: str = ""


def folded(text: str) -> str:
    """Return words as they are looked up: lower case, no hyphens, singular; 4-4-4 stays whole."""
    low = DIGITS_JOINED.sub("\u0001", text.lower().replace("’", "'").replace("'s ", " "))
    spaced = NOT_WORD.sub(" ", low).split()
    return " ".join(_singular(word) for word in spaced).replace("\u0001", "-")


def _singular(word: str) -> str:
    if len(word) < 4 or not word.endswith("s") or word.endswith(SINGULAR_ENDS):
        return word
    if word.endswith("ies") and len(word) > 4:
        return f"{word[:-3]}y"
    if word.endswith(("ches", "shes", "xes", "sses")):
        return word[:-2]
    return word[:-1]


@cache
def word_list() -> dict[str, tuple[tuple[str, ...], bool, str]]:
    """Return the list of growers' words: materials, sure or not, what to ask."""
    listed: dict[str, tuple[tuple[str, ...], bool, str]] = {}
    for row in rows("material_words.csv"):
        key = folded(row["words"])
        slugs, is_sure = tuple(row["materials"].split(";")), row["sure"] == "yes"
        before = listed.get(key)
        if before is not None and before[0] != slugs:
            # Two spellings that fold into one word: what either means may be meant.
            both = tuple(dict.fromkeys([*before[0], *slugs]))
            listed[key] = (both, False, before[2] or row["note"])
        else:
            listed[key] = (slugs, is_sure, row["note"])
    return listed


@cache
def _listed() -> frozenset[str]:
    """Return the slugs that the list of words knows."""
    return frozenset(slug for slugs, _, _ in word_list().values() for slug in slugs)


@cites("trade", "growers' words for materials; what has several meanings is asked about")
def understood(text: str, vocabulary: Vocabulary, box: Box = Box.ANY) -> Understood:
    """Return what a typed word means; never sure where more than one is meant.

    Parameters
    ----------
    text : str
        As typed, without its amount.
    vocabulary : Vocabulary
        What the yard may name.
    box : Box
        Where it was typed.
    """
    words, key = text.strip(), folded(text)
    if not key:
        return Understood(words, Sense.UNKNOWN)
    taught = {folded(word): slug for word, slug in vocabulary.taught.items()}
    if taught.get(key) in vocabulary.materials:
        return Understood(words, Sense.SURE, (taught[key],), "as this yard calls it")
    exact = _named(key, words, vocabulary)
    listed = word_list().get(key)
    if exact and (listed is None or exact not in listed[0] or listed[1]):
        return Understood(words, Sense.SURE, (exact,))
    if listed is not None:
        return _from_list(words, key, listed, vocabulary, box)
    return _like(words, key, vocabulary, box)


def is_word(text: str, vocabulary: Vocabulary) -> bool:
    """Return whether some words, whole, name a material or are asked about."""
    key = folded(text)
    taught = {folded(word) for word in vocabulary.taught}
    return key in word_list() or key in taught or _named(key, text, vocabulary) is not None


def _named(key: str, words: str, vocabulary: Vocabulary) -> str | None:
    """Return what bears just this name or slug, the yard's own first.

    What the list of words does not know speaks for itself by its other names as well.
    """
    bearing = [
        m.slug
        for m in vocabulary.materials.values()
        if key in _names(m.name, m.short_name)
        or words == m.slug
        or (m.slug not in _listed() and key in _names(m.slug, *m.other_names))
    ]
    bearing.sort(key=lambda slug: slug not in vocabulary.owned)
    return bearing[0] if bearing else None


@cache
def _names(*names: str) -> frozenset[str]:
    return frozenset(folded(name) for name in names)


def _fits(material: Named, box: Box) -> bool:
    if box is Box.PART:
        return material.role not in NOT_A_PART
    return True


def _ordered(slugs: list[str], vocabulary: Vocabulary, box: Box) -> tuple[str, ...]:
    """Return what may be meant: the shelf's own first, then what the box is for."""

    def place(slug: str) -> tuple[bool, bool]:
        material = vocabulary.materials[slug]
        is_bulk = material.role in ("bulk", "mulch")
        suits = box is Box.ANY or is_bulk is (box is Box.PART)
        return slug not in vocabulary.owned, not suits

    return tuple(sorted(slugs, key=place))


def _from_list(
    words: str,
    key: str,
    listed: tuple[tuple[str, ...], bool, str],
    vocabulary: Vocabulary,
    box: Box,
) -> Understood:
    slugs, is_sure, note = listed
    known = [s for s in slugs if s in vocabulary.materials]
    fitting = [s for s in known if _fits(vocabulary.materials[s], box)]
    if not fitting:
        why = "it is poured or sown, not mixed in as a part" if known else ""
        return Understood(words, Sense.UNKNOWN, (), why or note)
    if is_sure and len(fitting) == 1:
        return Understood(words, Sense.SURE, tuple(fitting), note)
    if key == COMPOST and vocabulary.region in COMPOST_IS_A_BAG and BAG in fitting:
        fitting = [BAG, *(s for s in fitting if s != BAG)]
    return Understood(words, Sense.WHICH, _ordered(fitting, vocabulary, box), note)


def _spoken_names(vocabulary: Vocabulary, box: Box) -> list[tuple[str, str]]:
    """Return every name that can be meant in a box, with its slug."""
    held = vocabulary.materials
    fitting = {slug for slug, material in held.items() if _fits(material, box)}
    own = [
        (name, slug)
        for slug in fitting
        for name in _names(held[slug].name, held[slug].short_name, *held[slug].other_names)
    ]
    return own + [(word, slug) for word, slug in _listed_pairs() if slug in fitting]


@cache
def _listed_pairs() -> tuple[tuple[str, str], ...]:
    """Return the list of words as pairs of word and slug."""
    return tuple((word, slug) for word, (slugs, _, _) in word_list().items() for slug in slugs)


def _like(words: str, key: str, vocabulary: Vocabulary, box: Box) -> Understood:
    """Return what is begun or spelt like it; never sure."""
    from rapidfuzz import fuzz, process  # noqa: PLC0415  (loaded once a word is not known)

    names = _spoken_names(vocabulary, box)
    parts = key.split()
    begun = [
        slug
        for name, slug in names
        if parts[0] in name
        and (name.startswith(key) or all(any(w.startswith(p) for w in name.split()) for p in parts))
    ]
    if begun:
        slugs = _ordered(list(dict.fromkeys(begun)), vocabulary, box)[:MOST_OFFERED]
        return Understood(words, Sense.WHICH, slugs)
    spoken = [name for name, _ in names]
    near = process.extract(
        key, spoken, scorer=fuzz.token_sort_ratio, limit=40, score_cutoff=NEAR_SCORE
    )
    slugs = tuple(dict.fromkeys(names[at][1] for _, _, at in near))
    if slugs:
        return Understood(words, Sense.NEAR, slugs[:MOST_OFFERED])
    return Understood(words, Sense.UNKNOWN)


def taught_also(vocabulary: Vocabulary, word: str, slug: str) -> Vocabulary:
    """Return a vocabulary that has learned a word."""
    return replace(vocabulary, taught={**vocabulary.taught, word: slug})
