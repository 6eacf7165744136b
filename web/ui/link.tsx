'use client';

import NextLink, { useLinkStatus } from 'next/link';
import { createContext, useCallback, useContext, useTransition, type ComponentProps, type ReactNode } from 'react';
import { useRouter } from './router';

/** Says that a page is on its way; it is seen where that takes longer than a moment. */
const OnItsWay = (): ReactNode => <span className="on-its-way" role="status" aria-label="The page is on its way" />;

/** A link. Nothing is fetched before it is followed: every page is made anew for whoever asks, so none can be kept ahead. */
export default function Link({ children, ...props }: ComponentProps<typeof NextLink>) {
  return (
    <NextLink prefetch={false} {...props}>
      {children}
      <Pending />
    </NextLink>
  );
}

function Pending(): ReactNode {
  return useLinkStatus().pending && <OnItsWay />;
}

type Go = (url: string, options?: { scroll?: boolean }) => void;

const Context = createContext<Go | null>(null);

export function GoProvider({ children }: { children: ReactNode }) {
  const router = useRouter();
  const [isGoing, begin] = useTransition();
  const go = useCallback<Go>((...to) => begin(() => router.push(...to)), [router]);
  return (
    <Context.Provider value={go}>
      {isGoing && <OnItsWay />}
      {children}
    </Context.Provider>
  );
}

/** Goes to a page of ours, as a link does. */
export function useGo(): Go {
  const router = useRouter();
  return useContext(Context) ?? router.push;
}
