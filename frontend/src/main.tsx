import '@fontsource-variable/atkinson-hyperlegible-next';
import './index.css';

import { createElement } from 'react';
import { createRoot } from 'react-dom/client';

import { speak } from './texts';

await speak(navigator.languages);
const { App } = await import('./app');
createRoot(document.getElementById('root')!).render(createElement(App));
