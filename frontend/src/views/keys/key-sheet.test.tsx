import { screen } from '@testing-library/react';
import { expect, it } from 'vitest';

import { commandsFor } from '../../commands/registry';
import { show } from '../../testing/panel';
import { KeySheet } from './key-sheet';

/** The keys beside a line's words. */
function keysOf(words: string): string {
  return screen.getByText(words).nextElementSibling?.textContent ?? '';
}

it('gives a line to each command that has a key, and one to a family', () => {
  show(
    <KeySheet open onClose={() => {}} onChange={() => {}} commands={commandsFor([])} labels={[]} />,
  );
  expect(keysOf('Pick')).toBe('L');
  expect(keysOf('Stars')).toBe('12345');
  expect(keysOf('Nudge this frame, looking close')).toBe('Shift ←Shift →Shift ↑Shift ↓');
  // Nine lines would hide the others.
  expect(keysOf('Only the frame at that place: pick it, reject the others, go on')).toBe(
    'Shift 1…Shift 9',
  );
  expect(screen.queryByText(/^Stars \d/)).toBeNull();
  // What has no key is in the key editor only.
  expect(screen.queryByText('Sort by name')).toBeNull();
});
