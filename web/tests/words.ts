/** What the catalogue's words are held to, and the exceptions with their reasons. */

export const VERBS = [
  'accept', 'add', 'answer', 'archive', 'change', 'choose', 'close', 'confirm', 'copy', 'correct', 'count', 'cancel', 'check', 'compare', 'deselect', 'discard',
  'download', 'draw', 'edit', 'enter', 'exclude', 'finish', 'go', 'hide', 'import', 'mark', 'move', 'open', 'plan', 'print', 'randomise', 'redo',
  'remove', 'resolve', 'restore', 'save', 'scan', 'see', 'send', 'set', 'show', 'sign', 'simulate', 'start', 'stay', 'stop', 'straighten',
  'subtract', 'suggest', 'swap', 'try', 'undo', 'use', 'wait',
] // prettier-ignore

/** Words that aren't used, and what stands in their place: one thing has one name. */
export const BANNED = [
  { use: 'value, count', not: 'figures?' },
  { use: 'save', not: 'keep it|keep them|keep the' },
  { use: 'import', not: 'bring in|bring a|bring records|brought' },
  { use: 'remove', not: 'take away|takes? out|taken out' },
  { use: 'restore', not: 'bring back' },
  { use: 'undo', not: 'take back|taken back' },
  { use: 'randomise', not: 'the draw|draw the map|drawn (?:anew|by chance|again)|draws?|drawn|chance draws' },
  { use: 'plot map', not: 'the ground' },
  { use: 'deselect', not: 'lets? go' },
  { use: 'conflict', not: 'contested|differ(?:ent)? figures' },
  { use: 'missing', not: 'gaps?|holes?|lost' },
  { use: 'detect', not: 'can see|could see|sees' },
  { use: 'result, analysis', not: 'readings?|full reading' },
]

type Reasons = Record<string, string>
/** Beginnings of keys, each with the reason why what they hold isn't held to the rule. */
export const ALLOWED: { buttons: Reasons; words: Reasons; lengths: Reasons } = {
  buttons: {
    'ground.by.': 'one of several choices',
    'species.inMix': 'what the button did, once it can’t be pressed any more',
    'ask.newSite': 'the name in “Remove …”',
    'today.stage.': 'one of several choices of what is listed',
    'frame.menu': 'opens the menu; everybody knows it by this word',
    'read.margin': 'the value that the button opens and changes',
    'read.noMargin': 'that there is no such value yet',
    'read.wanted.': 'the direction that the button opens and changes',
    'margin.percent': 'the unit of that value',
  },
  words: {
    'layout.draw': 'a line is drawn here, not plots at random',
    'plan.layOutLead': 'a line is drawn here',
    'walk.drawn.': 'an area is drawn with a finger here',
  },
  lengths: {},
}
