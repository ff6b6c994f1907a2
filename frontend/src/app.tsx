import { i18n } from '@lingui/core';
import { I18nProvider } from '@lingui/react';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { BrowserRouter, Route, Routes } from 'react-router';

import { OnceKnown } from './parts/once-known';
import { ShootView } from './views/shoot/shoot-view';
import { DroppedFolder } from './views/shoots/dropped-folder';
import { Shoots } from './views/shoots/shoots';

const client = new QueryClient({
  defaultOptions: { queries: { retry: 1, refetchOnWindowFocus: false } },
});

export function App() {
  return (
    <StrictMode>
      <I18nProvider i18n={i18n}>
        <QueryClientProvider client={client}>
          <BrowserRouter>
            <OnceKnown>
              <DroppedFolder>
                <Routes>
                  <Route path="/" element={<Shoots />} />
                  <Route path="/shoots/:shoot" element={<ShootView view="sheet" />} />
                  <Route path="/shoots/:shoot/frame" element={<ShootView view="frame" />} />
                  <Route path="/shoots/:shoot/side" element={<ShootView view="side" />} />
                  <Route path="/shoots/:shoot/knockout" element={<ShootView view="knockout" />} />
                  <Route path="/shoots/:shoot/review" element={<ShootView view="review" />} />
                  <Route path="/shoots/:shoot/number" element={<ShootView view="number" />} />
                  <Route path="/shoots/:shoot/hints" element={<ShootView view="hints" />} />
                  <Route path="/shoots/:shoot/wrap-up" element={<ShootView view="wrap-up" />} />
                </Routes>
              </DroppedFolder>
            </OnceKnown>
          </BrowserRouter>
        </QueryClientProvider>
      </I18nProvider>
    </StrictMode>
  );
}
