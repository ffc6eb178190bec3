import './api/no-eval.ts';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { BrowserRouter } from 'react-router';
import { ApiFailure } from './api/client.ts';
import { App } from './app.tsx';
import { startLanguage } from './i18n/i18n.ts';
import { startLook } from './ui/night.ts';
import './styles.css';

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      // A wrong request does not become right by repeating it.
      retry: (count, error) => count < 2 && !(error instanceof ApiFailure && error.status >= 400),
      refetchOnWindowFocus: false,
    },
  },
});

startLook();
/** Where Gaveta is, and its address inside a host’s page. */
const base = new URL(document.baseURI).pathname;
const embedded = `${base}embed`;
const isEmbedded = location.pathname.startsWith(`${embedded}/`);
/** A host’s page that shows one report has no list of them. */
const home = isEmbedded && location.pathname !== `${embedded}/` ? null : '/';

await startLanguage();

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <BrowserRouter basename={isEmbedded ? embedded : base}>
        <App isEmbedded={isEmbedded} home={home} />
      </BrowserRouter>
    </QueryClientProvider>
  </StrictMode>,
);
