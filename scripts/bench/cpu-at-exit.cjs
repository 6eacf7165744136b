// Loaded before a program that is measured: says at its end how much processor time and memory it took.
process.on('exit', () => {
  const { user, system } = process.cpuUsage();
  const { maxRSS } = process.resourceUsage();
  process.stderr.write(`\n${JSON.stringify({ cpuMs: (user + system) / 1000, peakMB: maxRSS / 1024 })}\n`);
});
