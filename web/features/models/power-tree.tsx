'use client';

import Link from '@/ui/link';
import { usePathname, useSearchParams } from 'next/navigation';
import { useEffect, useState, type KeyboardEvent } from 'react';
import type { RailDetails } from './rail-details';
import type { PowerTree, TreeNode } from './tree';

const early = ['always', 'G3'];
const middle = ['standby', 'S5', 'S4', 'S3'];

/** How a rail's power state is drawn: a bar on its left, as tall as the state is late, and the state in words. */
function lateness(state: string): number {
  return early.includes(state) ? 0.34 : middle.includes(state) ? 0.67 : 1;
}

/**
 * The power tree from the feeds to the loads. With a virtual start-up, the rails that stand are filled and the others
 * stay hollow. A rail that is chosen says what touches it, and lights the ways to and from it.
 */
export function PowerTreeView({
  tree,
  standing,
  details,
}: {
  tree: PowerTree;
  standing: string[] | null;
  details: Record<string, RailDetails>;
}) {
  const [chosen, setChosen] = useState<string | null>(null);
  // The picture narrows beside the details: what was chosen stays in sight.
  useEffect(() => {
    if (chosen) document.getElementById(`rail-${chosen}`)?.scrollIntoView({ inline: 'nearest', block: 'nearest' });
  }, [chosen]);
  const toggle = (id: string): void => setChosen((was) => (was === id ? null : id));
  const onKey = (event: KeyboardEvent, id: string): void => {
    if (event.key === 'Escape') setChosen(null);
    if (event.key !== 'Enter' && event.key !== ' ') return;
    event.preventDefault();
    toggle(id);
  };
  return (
    <div className={chosen ? 'grid gap-4 lg:grid-cols-[minmax(0,1fr)_330px]' : ''}>
      <Picture tree={tree} standing={standing} chosen={chosen} toggle={toggle} onKey={onKey} />
      {chosen && details[chosen] && <Details rail={details[chosen]} close={() => setChosen(null)} />}
    </div>
  );
}

function Picture({
  tree,
  standing,
  chosen,
  toggle,
  onKey,
}: {
  tree: PowerTree;
  standing: string[] | null;
  chosen: string | null;
  toggle: (id: string) => void;
  onKey: (event: KeyboardEvent, id: string) => void;
}) {
  return (
    <div className="overflow-x-auto" tabIndex={0} role="group" aria-label="Power tree, scrolls sideways">
      <svg
        viewBox={`0 0 ${tree.width} ${tree.height}`}
        width={tree.width}
        height={tree.height}
        role="group"
        aria-label={`Power tree: ${tree.nodes.map((n) => `${n.name} ${n.volts}`).join(', ')}`}
        className="block max-w-none"
      >
        {tree.edges.map((e) => (
          <path
            key={e.id}
            d={e.path}
            fill="none"
            className={e.ends.includes(chosen ?? '') ? 'stroke-umbra' : 'stroke-edge'}
            strokeWidth={e.ends.includes(chosen ?? '') ? 2.2 : 1.5}
          >
            {e.name && <title>{e.name}</title>}
          </path>
        ))}
        {tree.nodes.map((n) => {
          const stands = standing?.includes(n.id) ?? false;
          const fill = n.kind === 'feed' ? 'fill-paper' : stands ? 'fill-penumbra' : 'fill-raised';
          return (
            <g
              key={n.id}
              transform={`translate(${n.x} ${n.y})`}
              {...(n.kind === 'rail' && {
                id: `rail-${n.id}`,
                role: 'button',
                tabIndex: 0,
                'aria-pressed': chosen === n.id,
                className: 'cursor-pointer',
                onClick: () => toggle(n.id),
                onKeyDown: (event: KeyboardEvent) => onKey(event, n.id),
              })}
            >
              <rect
                width={n.width}
                height={n.height}
                rx={n.kind === 'feed' ? 20 : 7}
                className={`${fill} ${stands || chosen === n.id ? 'stroke-umbra' : 'stroke-line'}`}
                strokeWidth={chosen === n.id ? 3 : stands ? 1.6 : 1}
              />
              {n.kind === 'rail' && (
                <rect
                  x="4"
                  y={4 + (n.height - 8) * (1 - lateness(n.state))}
                  width="5"
                  height={(n.height - 8) * lateness(n.state)}
                  rx="2"
                  className="fill-edge"
                />
              )}
              <text
                x={n.kind === 'feed' ? n.width / 2 : 15}
                y="17"
                textAnchor={n.kind === 'feed' ? 'middle' : 'start'}
                className="fill-ink text-[11px] font-semibold"
              >
                {/* This is what is said to it too: the space comes before its state. */}
                {`${clip(n.name, 20)} `}
                {clip(n.name, 20) !== n.name && <title>{n.name}</title>}
              </text>
              <text
                x={n.kind === 'feed' ? n.width / 2 : 15}
                y="32"
                textAnchor={n.kind === 'feed' ? 'middle' : 'start'}
                className="fill-muted text-[10.5px]"
              >
                {stateOf(n, standing === null ? null : stands)}
              </text>
            </g>
          );
        })}
      </svg>
    </div>
  );
}

/** What the profile says about one rail, with every fault of what touches it as a virtual start. */
function Details({ rail, close }: { rail: RailDetails; close: () => void }) {
  const path = usePathname();
  const asked = useSearchParams();
  const withFault = (fault: string): string => {
    const next = new URLSearchParams(asked);
    next.set('fault', fault);
    return `${path}?${next}`;
  };
  return (
    <aside
      aria-label={`About ${rail.name}`}
      className="min-w-0 overflow-y-auto border-t border-line pt-2 text-sm lg:max-h-[680px] lg:border-t-0 lg:border-l lg:pt-0 lg:pl-4"
    >
      <div className="flex items-baseline gap-2">
        <h3 className="mr-auto text-lg leading-snug">{rail.name}</h3>
        <button type="button" className="button" onClick={close}>
          Close
        </button>
      </div>
      <ul className="mt-1">
        {rail.facts.map((f) => (
          <li key={f}>{f}</li>
        ))}
      </ul>
      {rail.groups.map((g) => (
        <div key={g.title} className="mt-2.5">
          <h4 className="text-muted">{g.title}</h4>
          <ul className="grid gap-1.5">
            {g.lines.map((l) => (
              <li key={l.id}>
                {l.id !== rail.id && (
                  <>
                    <strong>{l.name}</strong> <span className="text-muted">{l.says}</span>
                  </>
                )}
                {l.faults.length > 0 && (
                  <span className="mt-0.5 flex flex-wrap gap-x-3">
                    {l.faults.map((f) => (
                      <Link
                        key={f.value}
                        className="underline decoration-edge underline-offset-2"
                        href={withFault(f.value)}
                        scroll={false}
                      >
                        {f.words}
                      </Link>
                    ))}
                  </span>
                )}
              </li>
            ))}
          </ul>
        </div>
      ))}
      <p className="mt-2.5 text-muted">Choose a fault to simulate it in the setup above.</p>
    </aside>
  );
}

/** What stands below a name: volts, state, and whether a rail stands where a start was made; null where none was. */
function stateOf({ kind, volts, state }: TreeNode, stands: boolean | null): string {
  return [volts, state, stands !== null && kind === 'rail' ? (stands ? 'up' : 'down') : ''].filter(Boolean).join(' · ');
}

function clip(text: string, length: number): string {
  return text.length <= length ? text : `${text.slice(0, length - 1)}…`;
}
