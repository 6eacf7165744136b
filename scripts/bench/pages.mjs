import { memoryOf, memoryPeak, report, sized } from './report.mjs';
import { withSite } from './site.mjs';

/** Bytes of script over the wire: what the HTML names, which the page needs to become alive, and all by the time it rests. */
async function scriptsOf(browser, url) {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  const named = new Set(
    [...(await (await fetch(url)).text()).matchAll(/\/_next\/static\/[^"'\\ ]+\.js/g)].map((m) => m[0]),
  );
  let first = 0;
  let all = 0;
  const sized = [];
  page.on('response', (response) => {
    const path = new URL(response.url()).pathname;
    if (!path.endsWith('.js')) return;
    sized.push(
      response
        .request()
        .sizes()
        .then(({ responseBodySize }) => {
          all += responseBodySize;
          if (named.has(path)) first += responseBodySize;
        }),
    );
  });
  // The stream of events of the record page never rests.
  await page.goto(url, { waitUntil: 'load' });
  await page.waitForTimeout(2500);
  await Promise.all(sized);
  const interactive = await page.evaluate(() => performance.getEntriesByType('navigation')[0].domInteractive);
  await page.close();
  return { first, all, interactive };
}

/** Share of a processor that an open page takes while nothing happens, percent of one. */
async function restOf(browser, url) {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.goto(url, { waitUntil: 'load' });
  await page.waitForTimeout(sized(8000, 500));
  const session = await browser.newBrowserCDPSession();
  // Of the processes that show pages: a task that waits for a processor is no work.
  const busy = async () =>
    (await session.send('SystemInfo.getProcessInfo')).processInfo
      .filter((p) => p.type === 'renderer')
      .reduce((sum, p) => sum + p.cpuTime, 0);
  const seconds = sized(30, 1);
  const before = await busy();
  await page.waitForTimeout(1000 * seconds);
  const share = (100 * ((await busy()) - before)) / seconds;
  await session.detach();
  await page.close();
  return share;
}

/** How long the longest picture stood while somebody typed into the ladder, ms. */
async function longestFrame(browser, url) {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.goto(url, { waitUntil: 'load' });
  const field = page.getByRole('textbox').nth(1);
  await field.click();
  await page.waitForTimeout(sized(3000, 200));
  await page.evaluate(() => {
    window.longest = 0;
    let last = performance.now();
    const look = (now) => {
      window.longest = Math.max(window.longest, now - last);
      last = now;
      requestAnimationFrame(look);
    };
    requestAnimationFrame(look);
  });
  await page.keyboard.type('1.79 1.80 1.81 1.82 1.83 1.84', { delay: 40 });
  const longest = await page.evaluate(() => window.longest);
  await page.close();
  return longest;
}

export async function benchPages() {
  const rows = sized(5_000_000, 5000);
  const log = `t_s,voltage_V,current_A\n${Array.from({ length: rows }, (_, k) => `${k / 1000},4,0.${100 + (k % 900)}`).join('\n')}\n`;
  await withSite(async ({ web, browser }) => {
    const bench = await (await fetch(web.url)).text();
    const job = /href="(\/jobs\/\d+)"/.exec(bench)[1];
    for (const [name, path] of [
      ['bench', '/'],
      ['job', job.replace(/\d+$/, '1')],
      ['record', job.replace(/\d+$/, '1/record')],
      ['atlas', '/atlas'],
    ]) {
      const { first, all, interactive } = await scriptsOf(browser, web.url + path);
      const after = `${(all / 1000).toFixed(0)} kB by the time it rests, interactive after ${interactive.toFixed(0)} ms`;
      report(
        `script of the ${name} page at first, gzipped`,
        (first / 1000).toFixed(0),
        'kB',
        '< 250 kB',
        first < 250_000,
        after,
      );
    }
    for (const [name, path] of [
      ['job', '/jobs/1'],
      ['record', '/jobs/1/record'],
      ['bench', '/'],
    ]) {
      const share = await restOf(browser, web.url + path);
      report(`an open ${name} page while nothing happens`, share.toFixed(1), '% of a core', '< 1 %', share < 1);
    }
    const longest = await longestFrame(browser, `${web.url}/jobs/1/measure`);
    report('typing into the ladder: longest picture', longest.toFixed(0), 'ms', '< 34 ms', longest < 34);
    const before = memoryOf(web.child.pid);
    const began = performance.now();
    const setup = encodeURIComponent(JSON.stringify({ feed: 'battery' }));
    const added = await (
      await fetch(`${web.url}${job.replace('/jobs', '/api/jobs')}/runs?name=big.csv&setup=${setup}`, {
        method: 'POST',
        body: log,
      })
    ).json();
    const seconds = (performance.now() - began) / 1000;
    report(
      `add a run of ${rows.toLocaleString('en')} rows over the web`,
      seconds.toFixed(1),
      's',
      '',
      added.ok,
      `${(log.length / 1e6).toFixed(0)} MB, server peak ${(memoryPeak(web.child.pid) / 1e6).toFixed(0)} MB, ${(before / 1e6).toFixed(0)} MB before`,
    );
  });
}
