/** A heading with sentences under it; nothing where there are none. */
export function Lines({ title, lines }: { title: string; lines: readonly string[] }) {
  if (lines.length === 0) return null;
  return (
    <div>
      <h3 className="text-sm font-semibold">{title}</h3>
      <ul className="grid gap-0.5 text-sm">
        {lines.map((line) => (
          <li key={line} className="first-letter:uppercase">
            {line}
          </li>
        ))}
      </ul>
    </div>
  );
}
