import { screen } from '@testing-library/react';
import { beforeEach, expect, it } from 'vitest';

import type { Frame } from '../../state/frames';
import { useHints } from '../../state/hints';
import { useShoot } from '../../state/shoot';
import { show } from '../../testing/panel';
import { GroupTogether } from './together';

const GROUP = [1, 2, 3, 4, 5, 6];

/** A group in which these frames are parts of pictures. */
function linked(...pictures: number[][]) {
  const frames = GROUP.map((id) => {
    const parts = pictures.find((picture) => picture.includes(id));
    return [id, { id, name: `QH_${id}`, group: 0, parts } as Frame] as const;
  });
  useShoot.setState({ byId: new Map(frames) });
}

beforeEach(() => useHints.setState({ together: [] }));

it('names each picture of a group', () => {
  linked([1, 2], [4, 5, 6]);
  show(<GroupTogether ids={GROUP} />);
  expect(screen.getByText('QH_1 and QH_2 are one picture')).toBeVisible();
  expect(screen.getByText('QH_4, QH_5 and QH_6 are one picture')).toBeVisible();
});

it('offers what might be one beside what is one', () => {
  useHints.setState({ together: [[3, 4]] });
  linked([1, 2]);
  show(<GroupTogether ids={GROUP} />);
  expect(screen.getByText('nobody blinks in QH_3 and QH_4 together')).toBeVisible();
  expect(screen.getByText('QH_1 and QH_2 are one picture')).toBeVisible();
  expect(screen.getAllByRole('button', { name: 'link them' })).toHaveLength(1);
});

it('offers nothing that is one already', () => {
  useHints.setState({ together: [[3, 4]] });
  linked([3, 4]);
  show(<GroupTogether ids={GROUP} />);
  expect(screen.queryByRole('button')).toBeNull();
});
