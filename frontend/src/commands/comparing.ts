/** The commands of side by side and the knockout, and those of groups. */
import { t } from '@lingui/core/macro';

import {
  ALL,
  commands,
  HELD,
  KNOCKOUT,
  NUMBER,
  PASS,
  REVIEW,
  SIDE,
  STEP,
  TILES,
  type Command,
} from './command';

const NUDGES = [
  ['Left', 'left', -1, 0],
  ['Right', 'right', 1, 0],
  ['Up', 'up', 0, -1],
  ['Down', 'down', 0, 1],
] as const;

export const COMPARING: readonly Command[] = [
  ...commands('Compare', STEP, [
    ['side', t`Side by side: the selection, else this group`, ['V'], (s) => s.side.compare()],
    ['knockout', t`Knockout: the selection, else this group`, ['B'], (s) => s.side.knockout()],
  ]),
  ...commands('Compare', SIDE, [
    ['take-out', t`Take this frame out of view`, ['-'], (s) => s.side.takeOut()],
    ['bring-back', t`Bring back the last one taken out`, ['='], (s) => s.side.bringBack()],
    ['blink', t`Two frames blink in one place`, ['G'], (s) => s.side.turnTo('blink')],
    ['difference', t`The difference of two frames`, ['X'], (s) => s.side.turnTo('difference')],
    ['page-before', t`Page before`, ['PageUp', 'Shift+W'], (s) => s.side.turnPage(-1)],
    ['page-next', t`Next page`, ['PageDown', 'Shift+R'], (s) => s.side.turnPage(1)],
    ['carry', t`Carry this frame to every page, or don’t`, ['Shift+V'], (s) => s.side.carry()],
  ]),
  ...NUDGES.map(([way, word, x, y]): Command => ({
    id: `nudge-${word}`,
    title: t`Nudge this frame ${word}, looking close`,
    section: 'Compare',
    keys: [`Shift+Arrow${way}`],
    repeats: true,
    in: TILES,
    run: (s) => s.side.nudge(x, y),
  })),
  ...commands('Compare', TILES, [
    ['alone', t`Move and zoom one frame alone, or all together`, ['E'], (s) => s.side.alone()],
    ['unnudge', t`Take all nudges back`, ['Shift+Backspace'], (s) => s.side.unnudge()],
  ]),
  ...commands('Compare', KNOCKOUT, [
    [
      'left-stays',
      t`The best so far, at the left, stays`,
      ['S', 'ArrowLeft'],
      (s) => s.side.stays('best'),
    ],
    [
      'right-stays',
      t`The next one, at the right, stays`,
      ['F', 'ArrowRight'],
      (s) => s.side.stays('next'),
    ],
    ['walk-back', t`One comparison back`, ['Backspace', 'W'], (s) => s.side.walkBack()],
  ]),
];

export const REVIEWING: readonly Command[] = [
  ...commands('Compare', ALL, [
    ['review', t`Review the draft, group by group`, ['Shift+U'], (s) => s.review.open()],
  ]),
  ...commands('Compare', REVIEW, [
    [
      'review-take',
      t`Take what is proposed for this group, and go on`,
      ['L', 'Enter'],
      (s) => s.review.take(),
    ],
    [
      'review-next',
      t`Propose the next best frame instead`,
      ['F', 'ArrowRight'],
      (s) => s.review.another(1),
    ],
    [
      'review-before',
      t`Propose the frame before instead`,
      ['S', 'ArrowLeft'],
      (s) => s.review.another(-1),
    ],
    ['review-both', t`Keep the frame beside it, too, or one less`, ['A'], (s) => s.review.both()],
    ['review-none', t`Keep none of this group, and go on`, ['J'], (s) => s.review.takeNone()],
    ['review-later', t`Leave this group for later`, ['K'], (s) => s.review.later()],
    ['review-back', t`Back to the group before`, ['W', 'Backspace'], (s) => s.review.back()],
    ['review-sure', t`Take all proposals that are sure`, ['Shift+L'], (s) => s.review.takeSure()],
  ]),
];

export const TO_NUMBER: readonly Command[] = [
  ...commands('Compare', ALL, [
    [
      'number',
      t`Trim or fill the picks to the number, frame by frame`,
      ['Shift+I'],
      (s) => s.number.open(),
    ],
  ]),
  ...commands('Compare', NUMBER, [
    [
      'number-out',
      t`It goes (filling up: leave this group as it is)`,
      ['J'],
      (s) => s.number.letGo(),
    ],
    ['number-keep', t`Both stay (filling up: pick it)`, ['L', 'Enter'], (s) => s.number.keepIt()],
    [
      'number-next',
      t`Ask for the other frame instead`,
      ['F', 'ArrowRight'],
      (s) => s.number.other(1),
    ],
    [
      'number-before',
      t`Ask for the frame before instead`,
      ['S', 'ArrowLeft'],
      (s) => s.number.other(-1),
    ],
    ['number-back', t`One question back`, ['W', 'Backspace'], (s) => s.number.back()],
  ]),
];

const PLACES = [1, 2, 3, 4, 5, 6, 7, 8, 9] as const;

export const GROUPING: readonly Command[] = [
  ...commands('Groups', STEP, [
    [
      'keep-only',
      t`Only this one: pick it, reject the rest of its group, go on to the next`,
      ['.'],
      (s) => s.groups.onlyThis(),
    ],
  ]),
  ...PLACES.map((place): Command => ({
    id: `keep-only-${place}`,
    title: t`Only the frame at place ${place}: pick it, reject the others, go on`,
    section: 'Groups',
    keys: [`Shift+${place}`],
    in: SIDE,
    run: (s) => s.groups.onlyThis(place),
  })),
  ...commands('Groups', PASS, [
    ['groups', t`Groups: tighter or looser`, ['Ctrl+G'], (s) => s.groups.open()],
  ]),
  ...commands('Groups', STEP, [
    [
      'reject-rest',
      t`Reject the rest of this group, keep its picks`,
      [';'],
      (s) => s.groups.rejectRest(),
    ],
    ['next-unpicked', t`Next group without a pick`, ["'"], (s) => s.groups.nextUnpicked()],
    [
      'link',
      t`Link the selection as parts of one picture, or take it apart`,
      [','],
      (s) => s.groups.link(),
    ],
  ]),
  ...commands('Groups', PASS, [
    ['split-group', t`Begin a new group here`, ['['], (s) => s.groups.edit('split')],
    ['join-group', t`Join this group with the next`, [']'], (s) => s.groups.edit('join')],
    ['to-group-before', t`Move to the group before`, ['Shift+W'], (s) => s.groups.edit('before')],
    ['to-group-after', t`Move to the next group`, ['Shift+R'], (s) => s.groups.edit('after')],
    [
      'own-group',
      t`Make a group of the selection, or of this frame`,
      ['\\'],
      (s) => s.groups.edit('alone'),
    ],
    ['alike', t`More like this frame`, ['='], (s) => s.groups.alike()],
    ['tighter', t`Tighter groups`, ['Ctrl+ArrowLeft'], (s) => s.groups.loosen(-1), HELD],
    ['looser', t`Looser groups`, ['Ctrl+ArrowRight'], (s) => s.groups.loosen(1), HELD],
  ]),
];
