import type { PowerTree } from './tree';

const early = ['always', 'G3'];
const middle = ['standby', 'S5', 'S4', 'S3'];

/** How a rail's power state is drawn: a bar on its left, as tall as the state is late, and the state in words. */
function lateness(state: string): number {
  return early.includes(state) ? 0.34 : middle.includes(state) ? 0.67 : 1;
}

/**
 * The power tree from the feeds to the loads. With a virtual start-up, the rails that stand are filled and the others
 * stay hollow.
 */
export function PowerTreeView({ tree, standing }: { tree: PowerTree; standing: string[] | null }) {
  return (
    <div className="overflow-x-auto" tabIndex={0} role="group" aria-label="Power tree, scrolls sideways">
      <svg
        viewBox={`0 0 ${tree.width} ${tree.height}`}
        width={tree.width}
        height={tree.height}
        role="img"
        aria-label={`Power tree: ${tree.nodes.map((n) => `${n.name} ${n.volts}`).join(', ')}`}
        className="block max-w-none"
      >
        {tree.edges.map((e) => (
          <path key={e.id} d={e.path} fill="none" className="stroke-edge" strokeWidth="1.5">
            {e.name && <title>{e.name}</title>}
          </path>
        ))}
        {tree.nodes.map((n) => {
          const stands = standing?.includes(n.id) ?? false;
          const fill = n.kind === 'feed' ? 'fill-paper' : stands ? 'fill-penumbra' : 'fill-raised';
          return (
            <g key={n.id} transform={`translate(${n.x} ${n.y})`}>
              <rect
                width={n.width}
                height={n.height}
                rx={n.kind === 'feed' ? 20 : 7}
                className={`${fill} ${stands ? 'stroke-umbra' : 'stroke-line'}`}
                strokeWidth={stands ? 1.6 : 1}
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
                {clip(n.name, 20)}
                <title>{n.name}</title>
              </text>
              <text
                x={n.kind === 'feed' ? n.width / 2 : 15}
                y="32"
                textAnchor={n.kind === 'feed' ? 'middle' : 'start'}
                className="fill-muted text-[10.5px]"
              >
                {[n.volts, n.state, standing && n.kind === 'rail' ? (stands ? 'stands' : 'down') : '']
                  .filter(Boolean)
                  .join(' · ')}
              </text>
            </g>
          );
        })}
      </svg>
    </div>
  );
}

function clip(text: string, length: number): string {
  return text.length <= length ? text : `${text.slice(0, length - 1)}…`;
}
