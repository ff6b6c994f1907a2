import '@testing-library/jest-dom/vitest';

import { i18n } from '@lingui/core';

i18n.loadAndActivate({ locale: 'en', messages: {} });
