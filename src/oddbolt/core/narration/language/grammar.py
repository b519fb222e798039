"""Closed-class words of English that the reader leans on; they are grammar, not vocabulary, so they are not data."""

DETERMINERS = frozenset(
    "the a an this that these those my your its their our each every any some another both all either".split()
)
PRONOUNS = frozenset("it them they those these that this one ones him".split())
PREPOSITIONS = frozenset(
    "on in at from of along with using under underneath beneath below behind over to into onto for near around by "
    "through across between beside above inside via against off within without about towards toward before after "
    "than as upon next like during until since past".split()
)
CONJUNCTIONS = frozenset("and then but so or while because although though whereas plus".split())
SUBJECTS = frozenset(
    "i you we he she they it there i'll i'd you'd we'd they'd i'm i've "
    "you'll you're we'll we're we've let's that's".split()
)
AUXILIARIES = frozenset(
    "is are was were be been being am can could will would shall should may might must do does did have has had get "
    "gets got going gonna want wants need needs let's i'll we'll you'll i'm we're you're it's they're i've we've "
    "that's there's ought able".split()
)
PARTICLES = frozenset("off out up away free loose down back aside apart clear open over".split())
ADVERBS = frozenset(
    "now then first firstly next finally carefully gently just simply also again here there too very really quite "
    "slowly straight only once so well together easily completely actually okay ok right maybe still gradually "
    "basically obviously likewise quickly afterwards lastly please all upwards sideways slightly evenly firmly "
    "already itself themselves myself um uh er erm oh hmm ah well "
    "directly fully immediately lightly upward forward backwards twice clockwise anticlockwise "
    "counterclockwise alright yeah yes no not gotta rearwards forwards outwards inwards downwards downward outward "
    "inward rearward".split()
)
#: Verbs of everyday speech that take nothing apart. They end a noun group and are never part of a name.
EVERYDAY = frozenset(
    "go goes went gone came sits sit lies lie runs looks look seems seem costs cost feels feel works means mean "
    "says say shows show know knows think thought guess hope hear tell told flip flips flipped twist twists rotate "
    "turn turns push pushes pushed grab grabs move moves moved reveal reveals expose exposes count counts note "
    "check checks clean cleans wipe wipes use uses used leave leaves wait make makes made find found notice start "
    "starts begin try tries reach happens happen allows allow gives give gave keeps let lets put puts squeeze "
    "weighs weigh contains contain includes measures consists uses belongs leads goes sitting looking stays remains "
    "times passes careful shown done indicated count me bother bothers renew renews test tests bin discard discards "
    "throw throws thrown toss cover protect mask".split()
)
STOPS = (
    EVERYDAY
    | DETERMINERS
    | PRONOUNS
    | PREPOSITIONS
    | CONJUNCTIONS
    | SUBJECTS
    | AUXILIARIES
    | PARTICLES
    | ADVERBS
    | frozenset(
        "which who what where when if how why not never don't doesn't isn't aren't same each other have having because "
        "here's everyone everybody hello hi thanks thank welcome".split()
    )
)
