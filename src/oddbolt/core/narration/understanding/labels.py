"""The labels of the network, in the order of its outputs. A change here asks for a new training."""

#: what can be done; each stands on the words that name what it is done to, or on the verb
ACTS = tuple(
    "unscrew loosen out peel unclip disconnect desolder cut drill soften wait pry fold open turn bleed isolate "
    "place connect fasten stick clean roll route check align identify measure weigh condition spec "
    "photo pause resume undo same correct".split()
)
#: acts on fasteners, that have a count, a drive and something they hold
FASTENING = frozenset("unscrew loosen fasten unclip desolder cut drill".split())
#: acts on screws, bolts and nuts
OF_SCREWS = frozenset("unscrew loosen fasten".split())
#: acts that are often told of several things in one breath
OF_SEVERAL = frozenset(
    "out place connect disconnect peel pry soften stick route clean check identify measure weigh condition spec".split()
)
#: figures that belong to an act
ROLES = tuple("n n2 size len len2 held at under with face value marking renew reuse over tool".split())
#: figures that are a number each
NUMBERS = frozenset("n n2 size len len2 value".split())
#: what is said without being done
REMARKS = tuple("caution praise complaint finding hypothetical variant mark chat noise announce".split())
LABELS = (*ACTS, *ROLES)
#: what the utterance as a whole may hold
WHOLE = (*ACTS, *REMARKS)
#: the phase of the story, told to the network before the utterance
PHASES = ("apart", "back")
#: what the utterance before was, told likewise: a remark, or else the last act that was done
BEFORE = ("", "hypothetical", "announce", *ACTS)
