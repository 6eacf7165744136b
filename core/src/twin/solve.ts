import { kindCode, type Board } from './board.ts';
import settings from './settings.json';
import { goodShare, type Condition, type Pulsing, type Solution, type Workspace } from './solution.ts';
import { loadsFrom, fromFeed, burstA } from './bursts.ts';

/** Anything above is an open contact. */
const openOhm = 1e9;
/** Steps in which the voltage is taken down to find the limit. */
const coarseSteps = 24;
/** Halvings between two of these steps: 1 part in 16,000. */
const halvings = 14;
/** Outputs in overload stay under this share, so that nothing downstream takes them for standing. */
const maxCollapsed = 0.68;
const passes = 8;
const fromBattery = -3;
const fromNothing = -1;

/** Whether a converter is switched on and can run from what it is fed. */
function runs(board: Board, on: Uint8Array, condition: Condition, c: number, railV: number[]): boolean {
  if (!on[c] || condition.converterDead[c] || railV[board.from[c]] < board.minInV[c]) return false;
  const driver = board.drivenBy[c];
  if (driver < 0) return true;
  if (condition.partMute[driver]) return false;
  const lives = board.partRail[driver];
  return lives < 0 || railV[lives] >= goodShare * board.nominalV[lives];
}

/** Voltage that a converter gives one of its outputs. */
function outputV(board: Board, condition: Condition, ws: Workspace, c: number, r: number): number {
  const kind = board.kind[c];
  const nominal = board.nominalV[r];
  const input = ws.railV[board.from[c]];
  if (ws.flag[c]) return collapsed(board, condition, ws, c) * (kind === kindCode.switch ? input : nominal);
  if (kind === kindCode.switch) return Math.max(0, input - ws.outA[c] * board.ohm[c]);
  if (kind === kindCode.charger)
    return Math.min(Math.max(nominal, condition.batteryV) + settings.chargerDropV, input - settings.chargerDropV);
  return kind === kindCode.boost ? nominal : Math.min(nominal, settings.dropOutShare * input);
}

/** How far the outputs of an overloaded converter come up: what its limit drives through the shorts on them. */
function collapsed(board: Board, condition: Condition, ws: Workspace, c: number): number {
  const spec = board.profile.converters[c];
  if (spec.onOverload === 'latch') return 0;
  let through = 0;
  for (const r of board.to[c]) {
    const volts = spec.kind === 'switch' ? ws.railV[board.from[c]] : board.profile.rails[r].nominalV;
    through += condition.groundS[r] * volts;
  }
  const limit = spec.limitA * condition.converterShare[c];
  return through > 0 ? Math.min(maxCollapsed, limit / through) : settings.collapsedOhm;
}

/** One pass over the network with the feed at `volts`; gives the current that the feed delivers. */
function pass(board: Board, condition: Condition, level: number, ws: Workspace, volts: number): number {
  const on = board.enabled[level];
  const amps = board.amps[level];
  const { order, leaving, feeding, nominalV } = board;
  const { railV, railA, outA, inA, source, live } = ws;
  for (let k = 0; k < order.length; k++) {
    const r = order[k];
    let best = 0;
    let from = fromNothing;
    if (r === condition.feedRail && volts > 0) {
      best = Math.max(0, volts - railA[r] * Math.min(condition.contactOhm, openOhm));
      from = fromFeed;
    }
    if (r === condition.batteryRail) {
      const pack = Math.max(0, condition.batteryV - Math.max(0, railA[r]) * condition.batteryOhm);
      if (pack > best) {
        best = pack;
        from = fromBattery;
      }
    }
    const into = feeding[r];
    for (let j = 0; j < into.length; j++) {
      if (!live[into[j]]) continue;
      const given = outputV(board, condition, ws, into[j], r);
      if (given > best) {
        best = given;
        from = into[j];
      }
    }
    // Half a step, so that a drop over a contact settles instead of swinging.
    railV[r] = from === fromFeed || from === fromBattery ? 0.5 * (railV[r] + best) : best;
    source[r] = from;
    railA[r] = railV[r] * condition.groundS[r];
    const out = leaving[r];
    for (let j = 0; j < out.length; j++) live[out[j]] = Number(runs(board, on, condition, out[j], railV));
  }
  outA.fill(0);
  for (let l = 0; l < amps.length; l++) {
    const r = board.loadRail[l];
    if (amps[l] !== 0 && !condition.loadAbsent[l] && railV[r] >= loadsFrom * nominalV[r]) railA[r] += amps[l];
  }
  for (let k = order.length - 1; k >= 0; k--) {
    const r = order[k];
    const out = leaving[r];
    for (let j = 0; j < out.length; j++) {
      const c = out[j];
      inA[c] = live[c] ? inputA(board, condition, ws, c) : 0;
      railA[r] += inA[c];
    }
    if (source[r] >= 0) outA[source[r]] += railA[r];
  }
  const f = condition.feedRail;
  return f >= 0 && source[f] === fromFeed ? railA[f] : 0;
}

/** Current into a converter: power over efficiency, or the same current for a switch and a linear regulator. */
function inputA(board: Board, condition: Condition, ws: Workspace, c: number): number {
  const kind = board.kind[c];
  if (ws.flag[c]) ws.outA[c] = Math.min(ws.outA[c], board.limitA[c] * condition.converterShare[c]);
  if (kind === kindCode.switch || kind === kindCode.ldo) return ws.outA[c] + board.ownA[c];
  let power = 0;
  let highest = 0;
  const outs = board.to[c];
  for (let j = 0; j < outs.length; j++) {
    const r = outs[j];
    if (ws.source[r] === c) power += ws.railV[r] * ws.railA[r];
    highest = Math.max(highest, ws.railV[r]);
  }
  if (ws.flag[c]) power = Math.min(power, highest * ws.outA[c]);
  return power / (board.efficiency[c] * Math.max(ws.railV[board.from[c]], 1e-3)) + board.ownA[c];
}

/** Settles the network at a feed voltage; converters that give up are flagged and stay so. */
function settle(board: Board, condition: Condition, level: number, ws: Workspace, volts: number): number {
  const { converters } = board.profile;
  let amps = 0;
  let flags = 0;
  for (let k = 0; k < passes; k++) {
    const before = amps;
    amps = pass(board, condition, level, ws, volts);
    const gaveUp = k > 0 ? firstToGiveUp(board, condition, ws) : -1;
    if (gaveUp >= 0) {
      ws.flag[gaveUp] = 1;
      // What it pulled down has to settle again.
      k = Math.min(k, 1);
      if (++flags > converters.length) break;
    } else if (k > 0 && Math.abs(amps - before) <= 1e-4 + 1e-3 * Math.abs(amps)) break;
  }
  return amps;
}

/** The overloaded converter nearest to the loads: it lets go before those that feed it. */
function firstToGiveUp(board: Board, condition: Condition, ws: Workspace): number {
  let found = -1;
  let deepest = -1;
  for (let c = 0; c < ws.flag.length; c++) {
    const limit = board.limitA[c] * condition.converterShare[c];
    if (ws.flag[c] || ws.outA[c] <= limit) continue;
    // A switch straight behind the feed never sees more than the source gives.
    if (board.straight[c] && limit >= condition.limitA) continue;
    const depth = board.rank[board.from[c]];
    if (depth > deepest) [deepest, found] = [depth, c];
  }
  return found;
}

/** Settles from nothing: every voltage at its feed, no converter in overload. */
function settleAfresh(board: Board, condition: Condition, level: number, ws: Workspace, volts: number): number {
  ws.railA.fill(0);
  ws.outA.fill(0);
  ws.railV.fill(0);
  if (condition.feedRail >= 0) ws.railV[condition.feedRail] = volts;
  if (condition.batteryRail >= 0) ws.railV[condition.batteryRail] = condition.batteryV;
  ws.flag.fill(0);
  ws.live.fill(0);
  for (let c = 0; c < ws.flag.length; c++) if (condition.cyclingS[c] > 0) ws.flag[c] = 1;
  return settle(board, condition, level, ws, volts);
}

/**
 * The board at rest at one level: a tree solved from the loads to the feed, with the source in constant voltage or, past
 * its limit, in constant current.
 *
 * @param level from `levelOf`
 * @param volts what the source gives now (0 before it is on)
 */
export function solveBoard(board: Board, condition: Condition, level: number, ws: Workspace, volts: number): Solution {
  const open = condition.contactOhm === Infinity;
  const feedV = open ? 0 : volts;
  let amps = settleAfresh(board, condition, level, ws, feedV);
  let mode: Solution['mode'] = feedV > 0 ? 'cv' : 'off';
  // A USB source gives nothing until it has seen the device; a bench supply shows what it is set to.
  let shown = open && condition.hotPlug ? 0 : volts;
  let sags = false;
  if (amps > condition.limitA) {
    const held = hold(board, condition, level, ws, feedV);
    shown = held.volts;
    sags = held.sags;
    amps = condition.limitA;
    mode = 'cc';
  }
  const accepted = level >= 2 * (board.profile.stages.length + 1);
  const charging = mode === 'cv' && accepted ? charge(board, condition, ws, amps) : { feedA: 0, batteryA: 0 };
  const solution: Solution = {
    railV: ws.railV.slice(),
    railA: ws.railA.slice(),
    outA: ws.outA.slice(),
    inA: ws.inA.slice(),
    feedA: amps + charging.feedA,
    feedV: shown,
    mode,
    batteryA:
      condition.batteryRail >= 0 && ws.source[condition.batteryRail] === fromBattery
        ? ws.railA[condition.batteryRail]
        : 0,
    chargeA: charging.batteryA,
    pulsing: null,
    sags,
    overloaded: ws.flag.slice(),
    burstA: burstA(board, condition, level, ws, feedV),
  };
  solution.pulsing = sags ? null : pulsing(board, condition, level, ws, feedV, solution);
  return solution;
}

/** The voltage at which the device takes just the limit; where there is none, the source and the device take turns. */
function hold(board: Board, condition: Condition, level: number, ws: Workspace, volts: number) {
  let high = volts;
  let low = volts;
  let amps = Infinity;
  for (let k = 1; k <= coarseSteps && amps > condition.limitA; k++) {
    high = low;
    low = volts * (1 - k / coarseSteps);
    amps = settleAfresh(board, condition, level, ws, low);
  }
  for (let k = 0; k < halvings; k++) {
    const middle = 0.5 * (high + low);
    const at = settleAfresh(board, condition, level, ws, middle);
    if (at > condition.limitA) high = middle;
    else [low, amps] = [middle, at];
  }
  settleAfresh(board, condition, level, ws, low);
  return { volts: low, sags: amps < settings.sagsFrom * condition.limitA };
}

/** What a charger sends into the pack on top of feeding the device, within what the source allows. */
function charge(board: Board, condition: Condition, ws: Workspace, feedA: number): { feedA: number; batteryA: number } {
  if (condition.chargeShare <= 0 || condition.batteryRail < 0) return { feedA: 0, batteryA: 0 };
  for (let c = 0; c < ws.flag.length; c++) {
    const spec = board.profile.converters[c];
    const feedsSomething = board.to[c].some((r) => ws.source[r] === c);
    if (spec.kind !== 'charger' || !feedsSomething || ws.flag[c]) continue;
    const input = Math.max(ws.railV[board.from[c]], 0.5);
    const wanted =
      (spec.chargeA * condition.chargeShare * condition.converterShare[c] * condition.batteryV) /
      (spec.efficiency * input);
    const allowed = Math.max(0, settings.chargeShareOfLimit * condition.limitA - feedA);
    const taken = Math.min(wanted, allowed);
    return { feedA: taken, batteryA: (taken * spec.efficiency * input) / Math.max(condition.batteryV, 0.5) };
  }
  return { feedA: 0, batteryA: 0 };
}

/** Converters that retry make the feed pulse between what it draws with them trying and with them off. */
function pulsing(
  board: Board,
  condition: Condition,
  level: number,
  ws: Workspace,
  volts: number,
  high: Solution,
): Pulsing | null {
  const { converters } = board.profile;
  const retrying = converters.findIndex(
    (spec, c) => high.overloaded[c] && high.inA[c] > 0 && (condition.cyclingS[c] > 0 || spec.onOverload === 'hiccup'),
  );
  if (retrying < 0) return null;
  const periodS = condition.cyclingS[retrying] || converters[retrying].retryS;
  const dead = condition.converterDead[retrying];
  condition.converterDead[retrying] = 1;
  const lowA = settleAfresh(board, condition, level, ws, volts);
  condition.converterDead[retrying] = dead;
  return { highA: high.feedA, lowA: Math.min(lowA, high.feedA), periodS, duty: settings.retryDuty };
}
