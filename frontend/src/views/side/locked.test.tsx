import { expect, it, vi } from 'vitest';

import { lockAgain, lookAt, putOnStage, useCompare } from '../../state/compare';
import { useShoot } from '../../state/shoot';
import { answers, server } from '../../testing/panel';

it('looks again at the part that matters now, unless somebody chose another', async () => {
  const asked: unknown[] = [];
  server.use(
    answers.post('/api/shoots/{shoot}/beside', async ({ request, response }) => {
      const { frame, x, y } = await request.json();
      asked.push([frame, x, y]);
      return response(200).json([]);
    }),
  );
  useShoot.setState({ shootId: 7, active: 1 });
  putOnStage([1, 2], true);
  useCompare.setState({ look: { frame: 1, x: 0.2, y: 0.3 } });
  lockAgain();
  await vi.waitFor(() => expect(asked).toEqual([[1, null, null]]));
  lookAt({ frame: 2, x: 0.6, y: 0.5 });
  await vi.waitFor(() => expect(asked[1]).toEqual([2, 0.6, 0.5]));
  lockAgain();
  await vi.waitFor(() => expect(asked[2]).toEqual([2, 0.6, 0.5]));
});
