"""What a search says, on the page and on a phone alike: sentences with the names of what goes into them."""

AMPS_BACK = "amps back"
AMPS_OUTWARD = "amps outward"
AMPS_REASON = (
    "Its amps split the remaining possibilities about {more} to {less}. No nearer reading tells as much for its walk."
)
AT_UNIT = "the lead-out, at the unit"
CHECKED_FIRST = "Gates shut, switches set, full terminal, tester checked"
CLOSING_CLEAR = "nothing more that shows here"
CLOSING_LEFT = "a fault remains, probably {where}"
CLOSING_REASON = "Final check: a fault remains with {left}. This reading settles most of it for its walk."
FIRST_REASON = "The kV missing at the start show what to expect later. It takes a minute and no walk."
FOUND_LINE_WANTED = "Where it was: choose a line."
FOUND_OF = "{found} of {hidden} found"
FROM_YOU = "{length} from you"
GAIN = "The repair raised the voltage here by {gain_kv} kV{share}. {here}"
GROWTH_ALONG = "Growth along the fence"
GROWTH_REASON = (
    "Growth along the whole fence, {likely}: {times}. The kV are low and the amps high everywhere, so it is no single "
    "place. Cut it, graze it, or switch the bottom strands off; then read here again."
)
GROWTH_TIMES = "about {times} times what the plan expects"
HERE = "where you stand"
HOW_FAR = "{where}, about {minutes} minute{s}"
KIND_CUT = "A cut or bad joint"
KIND_EARTH_STRAND = "A short to an earth strand"
KIND_GROWTH = "Growth along the whole fence{times}"
KIND_HARD_SHORT = "A hard short to soil, under 200 Ω"
KIND_LEAK = "A leak to soil, growth or an insulator"
KIND_NOTHING = "Nothing more"
KIND_RODS = "The rods"
KIND_SEVERAL = "Two at once"
KV_AND_AMPS = "kV and amps"
KV_OF = "kV of {strand}"
KV_RANGE = "{low_kv} to {high_kv} kV"
KV_TOO_HIGH = "kV: {kv} is more than the unit gives ({open_kv} kV without load). Measure again."
KV_WANTED = "kV: type what the tester shows, or press Cannot go there."
LEAD_ALONE = "Lead-out alone"
LEAD_OUT = "the lead-out"
LEAST_SURE = " Least certain: {where}."
LIKELY_CLEAR = "Probably clear, {share}.{where} More walking would hardly change that."
LISTEN = "Listen as you come near: a spark clicks."
LOOKED_AT = "Looked at {where}"
LOOK_AT = "Look closely at {where}"
LOOK_GROWTH = "Look at the growth along the fence"
LOOK_REASON = "About {share} of the suspicion lies within a few steps there. A look takes a minute. {listen}"
LOOK_RODS = "Look at the rods"
MAY_STAND_OPEN = (
    "{name} may be open, or its lead may be off ({share}). Look at it first. If so, log it below and shut it."
    " below, and shut it."
)
NEARLY_SURE = "nearly sure"
NONE_MATTERS = "none that matters"
NONE_MISSING = "no kV are missing"
NOTHING_EXPLAINS = (
    "No likely fault explains the last reading. Check its place, direction and contact; otherwise there are two faults."
)
NOTHING_HIDDEN = "nothing was hidden"
NOTHING_SEEN = "nothing seen"
NOT_REACHED = "could not be read"
NOT_READ = "not read"
NO_GAIN = "The repair changed nothing here: {before_kv} kV before it. {here}"
NO_ONE_LINE = "no one line"
NO_RODS = "What it was: the plan has no rods. Set them at Earth or choose another."
NO_STRANDS_APART = "Line: choose one whose strands are not joined."
OF_MISSING = " of the {cost_kv} kV missing"
ONE_STRAND_WANTED = "kV: type what at least one strand shows."
OPENED_REASON = "With {names} open, the kV rise here if the fault is beyond the switch and stay low if it is before it."
OPEN_REASON = (
    "Then measure kV beside it. Without amps, a switch shows on which side the fault is. Power "
    "off before you work the switch. The animals beyond it have no fence until you shut it."
)
OVER_BACK = "over {amps} A back"
OVER_KV = "over {low_kv} kV"
OVER_OUTWARD = "over {amps} A outward"
READ_AGAIN = "Read again here, at {where}"
READ_AGAIN_REASON = (
    "Read the same place again after a repair: the kV gained were this fault, the kV still missing are another."
)
READ_AT = "Read {what} at {where}"
READ_FED_SIDE = "Read kV at {where}, on the fed side"
READ_RODS = "Read kV at the rods, fence on"
RODS_FIRST = (
    "High volts there mean that the earth is at fault; low volts mean that the fault is on the fence. It takes a "
    "minute and no walk along the fence."
)
RODS_LIKELY = "The rods are suspected: their volts with the fence loaded decide it."
RODS_LOOK = (
    "check clamps, lead, and rods for rust, pulling or breaks. If all is sound, the ground has dried out: water "
    "helps at once; more rods in damp ground help for good."
)
RODS_REASON = "The rods, {likely}: {look}"
RULED_OUT = "ruled out"
SHUT_REASON = "The next reading needs the whole fence. The animals beyond the switch have no fence until you shut it."
SHUT_SWITCH = "Shut {name} again"
SIDE = {"past": "it is beyond here", "before": "it is before here, or elsewhere", "open": "does not decide"}
SIDES_REASON = (
    "It splits the remaining possibilities about {more} to {less}. No nearer reading tells as much for its walk."
)
SIZES_REASON = "It narrows the possible sizes and kinds for little walking."
SPUR_LINE_WANTED = "Where it joins: choose a line."
SPUR_NOTED = "The fence that joins at {where} is on no plan. Nothing is known beyond it; the search goes on."
STAY = {
    "rods": " The rods are still dry: water them, or plan more at Earth.",
    "growth": " The growth remains: cut it, graze it, or switch the bottom strands off.",
}
STILL_MISSING = "{left_kv} kV are still missing"
STOOD_ALL_ALONG = "{name} was {state} from the start"
STOP = "Stop here"
STOP_FOR_NOW = "Stop here for now"
STOP_FOR_NOW_REASON = "No reading or look can tell more. Ask a second person to look."
STRANDS_READ = "{place}, strand by strand from the ground"
STRAND_ALONE = " Read {strand} alone from here on."
SWEEP = "Walk the fence and look"
SWEEP_ORDER = "first {lines}, then the rest"
SWEEP_REASON = "Readings cannot tell more, but looking can. The most likely stretches come first."
SWITCH_GONE = "A switch since removed"
TOLD_OTHERWISE = (
    "You said that {name} is {told}, but the last reading fits better if it is {fits}. Look at it first, and log "
    "below how it was."
)
UNDER_BACK = "under {amps} A back, or outward"
UNDER_KV = "under {high_kv} kV"
UNDER_OUTWARD = "under {amps} A outward, or back"
UNIT_ALONE = "Unit alone"
WALKED = "Walked all of it"
WELL_WOULD_BE = "Healthy would be {well_kv} kV: {missing}."
