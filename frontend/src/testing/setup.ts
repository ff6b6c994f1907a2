/**
 * Before each file of panels' tests, and so before the client is made, which keeps the `fetch` that
 * it finds.
 */
import { cleanup, configure } from '@testing-library/react';
import { afterAll, afterEach } from 'vitest';

import { server } from './panel';

// A busy machine is no failure.
configure({ asyncUtilTimeout: 30_000 });
// jsdom has no pointers that are captured.
Element.prototype.releasePointerCapture = () => undefined;
server.listen({ onUnhandledRequest: 'error' });
afterEach(() => {
  cleanup();
  server.resetHandlers();
});
afterAll(() => server.close());
