/**
 * Panels alone, for their tests: shown as in the page, with a server that answers as openapi.json
 * says.
 */
import { i18n } from '@lingui/core';
import { I18nProvider } from '@lingui/react';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { render } from '@testing-library/react';
import userEvent, { type UserEvent } from '@testing-library/user-event';
import { setupServer } from 'msw/node';
import { createOpenApiHttp } from 'openapi-msw';
import type { ReactNode } from 'react';

import type { paths } from '../api/schema';
import { NOT_SHARED } from './sharing';

/**
 * What requests are answered with: paths, bodies and answers are those of the API's description.
 */
export const answers = createOpenApiHttp<paths>({ baseUrl: window.location.origin });

/**
 * The server; `server.use(answers.get(…))` in a test. A request that nothing answers fails; nothing
 * is shared.
 */
export const server = setupServer(
  answers.get('/api/sharing', ({ response }) => response(200).json(NOT_SHARED)),
);

/** Show something, and get the person who uses it. */
export function show(shown: ReactNode): UserEvent {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  render(
    <I18nProvider i18n={i18n}>
      <QueryClientProvider client={client}>{shown}</QueryClientProvider>
    </I18nProvider>,
  );
  return userEvent.setup();
}
