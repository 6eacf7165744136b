import type { Metadata, Viewport } from 'next';
import { headers } from 'next/headers';
import type { ReactNode } from 'react';
import { Header, loadPerson } from '@/features/shell/header';
import { earlyKeyScript } from '@/ui/key-registry';
import { KeyProvider } from '@/ui/keys';
import { RequestKeys } from '@/ui/request-key';
import { GoProvider } from '@/ui/link';
import { QuestionProvider } from '@/ui/question';
import { ToastProvider } from '@/ui/toast';
import { themeScript } from '@/ui/theme';
import './globals.css';

export const metadata: Metadata = {
  title: { default: 'Umbral', template: '%s · Umbral' },
  description: 'Finds the faulty circuit of a dead device from the current it draws',
};

export const viewport: Viewport = { width: 'device-width', initialScale: 1 };

export default async function RootLayout({ children }: { children: ReactNode }) {
  // Scripts of ours run because they carry what the content policy names for this answer.
  const nonce = (await headers()).get('x-nonce') ?? undefined;
  const here = await loadPerson();
  return (
    <html lang="en" data-person={here?.person.id} suppressHydrationWarning>
      <head>
        <script nonce={nonce} suppressHydrationWarning dangerouslySetInnerHTML={{ __html: themeScript }} />
        <script nonce={nonce} suppressHydrationWarning dangerouslySetInnerHTML={{ __html: earlyKeyScript }} />
      </head>
      <body>
        <RequestKeys />
        <a
          href="#content"
          className="button sr-only focus:not-sr-only focus:absolute focus:z-50 focus:m-2 focus:px-4 focus:py-2"
        >
          Skip to content
        </a>
        <GoProvider>
          <KeyProvider personId={here?.person.id}>
            <ToastProvider>
              <QuestionProvider>
                <Header here={here} />
                <div id="content" tabIndex={-1}>
                  {children}
                </div>
              </QuestionProvider>
            </ToastProvider>
          </KeyProvider>
        </GoProvider>
      </body>
    </html>
  );
}
