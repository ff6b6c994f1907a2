import { QueryClient, QueryObserver } from '@tanstack/react-query';
import { expect, it, vi } from 'vitest';

import { freshen } from './freshen';

it('asks once more what was being asked for the first time when something was told', async () => {
  const client = new QueryClient();
  let answer: (value: string) => void = () => undefined;
  const asking = vi.fn(() => new Promise<string>((resolve) => (answer = resolve)));
  const observer = new QueryObserver(client, { queryKey: ['runs', 7, 'all'], queryFn: asking });
  const forget = observer.subscribe(() => undefined);
  expect(asking).toHaveBeenCalledTimes(1);

  freshen(client, ['runs', 7]);
  answer('before');
  await vi.waitFor(() => expect(asking).toHaveBeenCalledTimes(2));
  answer('after');
  await vi.waitFor(() => expect(observer.getCurrentResult().data).toBe('after'));

  // What is known already is asked at once, and not a second time.
  freshen(client, ['runs', 7]);
  expect(asking).toHaveBeenCalledTimes(3);
  answer('later');
  await vi.waitFor(() => expect(observer.getCurrentResult().data).toBe('later'));
  expect(asking).toHaveBeenCalledTimes(3);
  forget();
});
