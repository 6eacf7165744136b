/** The two numbers of a bench, as they stand at the chosen moment. */
export function Display({ volts, amps, says }: { volts: number | null; amps: number | null; says: string }) {
  const digits = (x: number | null, decimals: number): string => (x === null ? '-.---' : x.toFixed(decimals));
  return (
    <output
      aria-label={`Display of the ${says}`}
      className="rounded-lg border-2 border-edge bg-paper px-3 py-1 font-mono text-lg tabular-nums"
    >
      {digits(volts, 2)} V <span className="pl-2">{digits(amps, 3)} A</span>
    </output>
  );
}
