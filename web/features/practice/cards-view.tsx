'use client';

import { GatedButton } from '@/ui/kit/gated-button';
import { patternNames, patternTypes, type PatternId } from '@umbral/core/words';
import Link from '@/ui/link';
import dynamic from 'next/dynamic';
import { useEffect, useState } from 'react';
import { useKey } from '@/ui/keys';
import type { Card } from '@/server/work/practice/cards';
import { nameCard } from './actions';

/** A chart, with the room that it takes until its script is there. */
const RunPicture = dynamic(() => import('./lesson-picture').then((m) => m.RunPicture), {
  ssr: false,
  loading: () => <div style={{ height: 220 }} />,
});

/** Feed, scale, volts and the press are read as well as the shape. */
const secondsToName = 6;

const explained = (id: PatternId): string => patternTypes[id].explains;

/** Runs, a few seconds each: name the pattern, or let the time run out. */
export function CardsView({ cards: newest }: { cards: Card[] }) {
  // Every answer makes the page again, with other cards: a round goes on with those that were dealt.
  const [cards, deal] = useState(newest);
  const [at, setAt] = useState(-1);
  const [said, setSaid] = useState<{ pattern: string | null } | null>(null);
  const [right, setRight] = useState(0);
  const card = cards[at] ?? null;
  const isAsked = card !== null && said === null;
  const say = (pattern: string | null): void => {
    if (!isAsked) return;
    setSaid({ pattern });
    if (pattern === card.pattern) setRight((n) => n + 1);
    void nameCard({ pattern: card.pattern, said: pattern });
  };
  useEffect(() => {
    if (!isAsked) return;
    const timer = setTimeout(() => say(null), secondsToName * 1000);
    return () => clearTimeout(timer);
    // The clock belongs to the card, not to what is drawn of it meanwhile.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [at, isAsked]);
  const next = (): void => {
    setSaid(null);
    setAt(at + 1);
  };
  useKey('1', 'first answer', () => say(card?.options[0]?.id ?? null));
  useKey('2', 'second answer', () => say(card?.options[1]?.id ?? null));
  useKey('3', 'third answer', () => say(card?.options[2]?.id ?? null));
  useKey('4', 'fourth answer', () => say(card?.options[3]?.id ?? null));
  useKey('.', 'next run', () => (at < 0 || said !== null) && at < cards.length && next());
  return (
    <main className="mx-auto max-w-xl px-4 pb-8">
      <p className="pt-2.5 text-sm text-muted">
        <Link href="/practice" className="underline">
          Practice
        </Link>{' '}
        · pattern drill
      </p>
      <h1 className="text-2xl">Which pattern?</h1>
      {at < 0 ? (
        <div className="card mt-3 grid gap-3 p-4">
          <p>
            {cards.length} runs from this shop, {secondsToName} seconds each. Time runs to the right, current goes up.
            Small currents are stretched. Look at the feed, its voltage and the moment of power-on as well.
          </p>
          <GatedButton
            type="button"
            className="button button-main"
            blocked={cards.length === 0 ? 'No confirmed runs to show yet' : null}
            onClick={next}
          >
            Start <kbd>.</kbd>
          </GatedButton>
        </div>
      ) : card === null ? (
        <div className="card mt-3 grid gap-3 p-4">
          <p role="status" className="text-lg">
            {right} of {cards.length} right. What you missed comes back soon, what you knew comes back later.
          </p>
          <span className="flex flex-wrap gap-2">
            <button
              type="button"
              className="button button-main"
              onClick={() => {
                setAt(-1);
                setRight(0);
                deal(newest);
              }}
            >
              Play again
            </button>
            <Link className="button" href="/practice">
              Stop
            </Link>
          </span>
        </div>
      ) : (
        <section aria-label={`Run ${at + 1}`} className="card mt-3 grid gap-3 p-4">
          <p className="text-sm text-muted">
            {at + 1} of {cards.length}
          </p>
          <RunPicture picture={card.picture} label={`A run: ${card.picture.feed}`} />
          <div className="h-1.5 overflow-hidden rounded bg-line" aria-hidden>
            {isAsked && <div key={at} className="countdown h-full bg-umbra" />}
          </div>
          <div className="grid gap-2 sm:grid-cols-2">
            {card.options.map((o, k) => (
              <button
                key={o.id}
                type="button"
                className={`button justify-start text-left ${said && o.id === card.pattern ? 'border-good text-good' : ''} ${said?.pattern === o.id && o.id !== card.pattern ? 'border-decide text-decide' : ''}`}
                disabled={said !== null && o.id !== card.pattern && o.id !== said.pattern}
                onClick={() => say(o.id)}
              >
                {o.name} <kbd>{k + 1}</kbd>
              </button>
            ))}
          </div>
          {said && (
            <div role="status" className="flex flex-wrap items-center gap-2">
              <span className="mr-auto">
                {said.pattern === card.pattern
                  ? 'Right.'
                  : `${said.pattern === null ? 'Time is up' : 'No'}. This is “${patternNames[card.pattern]}”: ${explained(card.pattern)}`}{' '}
                {said.pattern !== null && said.pattern !== card.pattern && (
                  <span>
                    “{patternNames[said.pattern as PatternId]}” looks otherwise:{' '}
                    {explained(said.pattern as PatternId)}{' '}
                  </span>
                )}
                <span className="text-sm text-muted">From {card.from}.</span>
              </span>
              <button type="button" className="button button-main" onClick={next}>
                Next <kbd>.</kbd>
              </button>
            </div>
          )}
        </section>
      )}
    </main>
  );
}
