/**
 * The commands of looking: close, with something drawn over the photograph, turned, in another
 * order.
 */
import { t } from '@lingui/core/macro';

import type { Settings } from '../api/client';
import { ALL, CLOSE, commands, FRAME, HELD, PASS, SHEET, SHOW, type Command } from './command';

export const SORTS: readonly (readonly [Settings['sort'], string])[] = [
  ['time', t`time`],
  ['name', t`name`],
  ['focus', t`focus, the sharpest first`],
  ['stars', t`stars, the most first`],
  ['decision', t`decision: picks, undecided, rejects`],
];

export const LOOKING: readonly Command[] = [
  ...commands('Look', CLOSE, [
    ['look-close', t`Look close at 100 %; held: a glance`, ['D'], (s) => s.lookClose(1)],
    ['look-closer', t`Look close at 200 %`, ['Shift+D'], (s) => s.lookClose(2)],
    ['zoom-in', t`Zoom in`, ['Ctrl+ArrowUp'], (s) => s.zoom(1), HELD],
    ['zoom-out', t`Zoom out`, ['Ctrl+ArrowDown'], (s) => s.zoom(-1), HELD],
  ]),
  ...commands('Look', FRAME, [
    ['glass', t`Magnifying glass under the pointer`, ['G'], (s) => s.toggleOver('glass')],
    ['clipped', t`Clipped highlights and shadows`, ['C'], (s) => s.toggleOver('clipped')],
    ['histogram', t`Histogram`, ['Shift+C'], (s) => s.toggleOver('histogram')],
    ['edges', t`Edges that are in focus`, ['Shift+X'], (s) => s.toggleOver('edges')],
  ]),
  ...commands('Look', PASS, [
    ['turn-left', t`Turn left (on screen only)`, ['<'], (s) => s.turn(3)],
    ['turn-right', t`Turn right (on screen only)`, ['>'], (s) => s.turn(1)],
  ]),
  ...commands('Look', SHOW, [
    ['surround', t`Darker or lighter surround`, ['Shift+B'], (s) => s.cycleSurround()],
  ]),
  ...commands('Look', SHEET, [
    ['fold', t`Fold this group, or unfold it`, ['G'], (s) => s.foldGroup()],
    ['fold-all', t`Fold or unfold all groups`, ['Shift+G'], (s) => s.foldAll()],
  ]),
  ...SORTS.map(([order, words]): Command => ({
    id: `sort-${order}`,
    title: t`Sort by ${words}`,
    section: 'Look',
    keys: [],
    in: PASS,
    run: (s) => s.sortBy(order),
  })),
  ...commands('Look', SHOW, [
    ['full-screen', t`Full screen`, ['F11'], (s) => s.fullScreen()],
    ['bare', t`Hide all but the photographs`, ['H'], (s) => s.toggleBare()],
  ]),
  ...commands('Look', FRAME, [
    ['facts', t`Facts over the photograph`, ['M'], (s) => s.toggleFacts()],
    ['sharp', t`Where the photograph is sharp`, ['X'], (s) => s.toggleOver('sharp')],
  ]),
  ...commands('Look', CLOSE, [
    [
      'measured',
      t`Where the blur is measured, and where the camera focused`,
      ['Shift+P'],
      (s) => s.toggleOutline(),
    ],
    ['faces', t`Faces of these frames`, ['Shift+E'], (s) => s.toggleFaces()],
    ['face-whole', t`Zoom to the face: it fills the view`, ['Shift+G'], (s) => s.fitFace()],
    ['face-before', t`Look close at the face before`, ['Shift+S'], (s) => s.stepFace(-1)],
    ['face-next', t`Look close at the next face`, ['Shift+F'], (s) => s.stepFace(1)],
  ]),
  ...commands('Look', ALL, [
    [
      'hints',
      t`Hints: what the analysis noticed`,
      ['Shift+H'],
      (s) => s.show(s.view === 'hints' ? 'sheet' : 'hints'),
    ],
  ]),
  ...commands('Mark', SHOW, [
    ['captions', t`Captions and rights`, ['Shift+Q'], (s) => s.toggleCaptions()],
  ]),
  ...commands('Look', SHOW, [
    ['all-facts', t`All facts of this frame`, ['Shift+M'], (s) => s.openFacts()],
  ]),
  ...commands('Look', SHEET, [
    ['smaller', t`Smaller rows`, ['Ctrl+ArrowDown'], (s) => s.resize(-1), HELD],
    ['larger', t`Larger rows`, ['Ctrl+ArrowUp'], (s) => s.resize(1), HELD],
    ['names', t`Names under the frames`, ['M'], (s) => s.toggleNames()],
  ]),
  ...commands('Look', ALL, [
    ['sheet', t`Go to the sheet`, [], (s) => s.show('sheet')],
    ['wrap-up', t`Wrap up`, ['Q'], (s) => s.show('wrap-up')],
  ]),
  ...commands('Look', SHOW, [
    ['second', t`Second window on the active frame`, ['Shift+O'], (s) => s.openSecond()],
  ]),
  ...commands('Shoot', SHOW, [
    ['follow', t`Follow the newest frame, or don’t`, ['Shift+N'], (s) => s.toggleFollow()],
  ]),
  ...commands('Shoot', ALL, [['clocks', t`Cameras’ clocks`, ['Shift+T'], (s) => s.openClocks()]]),
  ...commands('Shoot', ALL, [['people', t`Who is in it`, [], (s) => s.openPanel('people')]]),
];
