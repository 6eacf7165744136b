import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import {
  checkIds,
  compileProfile,
  hypothesesOf,
  parseFault,
  readProfile,
  sayFinding,
  sayProbe,
  seededRandom,
  shippedProfile,
  startUp,
  targetOf,
  usualSetup,
  type CheckId,
  type Fault,
  type OperatorAct,
  type ProbePhase,
  type Profile,
} from '@umbral/core';
import * as yup from 'yup';
import { answerJson, listenForJson } from '../http.ts';
import type { SimulatedBench } from './bench.ts';

const actInput = yup.object({
  does: yup.string().oneOf(['press', 'plug', 'unplug', 'take-off', 'put-back', 'battery', 'display']).required(),
  port: yup.number().strict().integer().min(1).max(8).default(1),
  flipped: yup.boolean().strict().default(false),
  id: yup.string().strict().max(100).default(''),
  connected: yup.boolean().strict().default(true),
});
const layInput = yup.object({
  profile: yup.string().strict().max(100).required(),
  /** As the command line takes it; `hidden` for one that nobody is told. */
  fault: yup.string().strict().max(120).required(),
  seed: yup.number().strict().integer().min(1).max(1e9).default(1),
});
/** A device as it stands, with what is wrong with it: a unit that somebody practises on. */
const layUnitInput = yup.object({
  device: yup.mixed<Profile>().required(),
  faults: yup.array(yup.mixed<Fault>().required()).max(8).required(),
  seed: yup.number().strict().integer().min(1).max(1e9).required(),
});

const lookInput = yup.object({ check: yup.string().oneOf(checkIds).required() });

const rail = yup.string().strict().max(100);
const probeInput = yup.object({
  rail: rail.required(),
  mode: yup.string().oneOf(['voltage', 'resistance']).required(),
  phase: yup.string().oneOf(['before', 'after', 'plugged']).default('after'),
});
const holdInput = yup.object({ rail: rail.nullable().default(null) });
const mendInput = yup.object({ at: rail.required() });

/** A fault that nobody is told: drawn from those with which this model does not start. */
function hiddenFault(profile: Profile, seed: number): Fault {
  const board = compileProfile(profile);
  const feed = profile.battery ? 'battery' : 'dc-in';
  const isDead = (fault: Fault): boolean => !startUp(board, [fault], { ...usualSetup, feed, seconds: 40 }).running;
  const list = hypothesesOf(profile).filter((h) => h.fault && h.fault.kind !== 'none' && isDead(h.fault));
  const total = list.reduce((sum, h) => sum + h.share, 0);
  let left = seededRandom(seed)() * total;
  return (list.find((h) => (left -= h.share) <= 0) ?? list[0]).fault as Fault;
}

/** The technician's hands on a simulated bench, for whoever has the token: JSON over HTTP on loopback. */
export class OperatorServer {
  private readonly server = createServer((request, response) => void this.serve(request, response));
  private fault = 'none';

  constructor(
    private readonly bench: SimulatedBench,
    private readonly token: string,
  ) {}

  listen(port: number): Promise<number> {
    return listenForJson(this.server, port);
  }

  close(): Promise<unknown> {
    return new Promise((resolve) => this.server.close(resolve));
  }

  private serve(request: IncomingMessage, response: ServerResponse): Promise<void> {
    return answerJson(request, response, this.token, (path, body) => {
      if (path === 'POST /act') this.act(body);
      else if (path === 'POST /lay') this.lay(body);
      else if (path === 'POST /lay-unit') this.layUnit(body);
      else if (path === 'POST /look')
        return { outcome: this.bench.look(lookInput.validateSync(body).check as CheckId) };
      else if (path === 'POST /probe') return this.probe(body);
      else if (path === 'POST /heat') return this.bench.heat();
      else if (path === 'POST /mend') return { was: this.bench.mend(mendInput.validateSync(body).at) };
      else if (path === 'POST /hold') this.bench.holdTo(holdInput.validateSync(body).rail);
      else if (path !== 'GET /state') return undefined;
      return this.state();
    });
  }

  private state() {
    const { profile } = this.bench;
    return {
      ...this.bench.state,
      model: profile.name,
      profile: profile.id,
      fault: this.fault,
      ports: profile.ports.length,
      hasBattery: profile.battery !== null,
      peripherals: profile.peripherals.map(({ id, name }) => ({ id, name })),
      elements: [
        ...profile.parts,
        ...profile.converters,
        ...profile.loads,
        ...profile.peripherals,
        ...profile.rails,
      ].map(({ id, name }) => ({ id, name })),
    };
  }

  /** What a meter shows, as somebody would type it. */
  private probe(body: unknown): { shows: string } {
    const { rail: at, mode, phase } = probeInput.validateSync(body);
    return { shows: sayProbe(this.bench.board, at, mode as 'voltage' | 'resistance', phase as ProbePhase) };
  }

  private act(body: unknown): void {
    this.bench.act(actInput.validateSync(body) as OperatorAct);
  }

  private layUnit(body: unknown): void {
    const { device, faults, seed } = layUnitInput.validateSync(body);
    const { profile, findings } = readProfile(new TextEncoder().encode(JSON.stringify(device)), 'unit');
    if (!profile) throw new RangeError(findings.map(sayFinding).join('; '));
    for (const f of faults) if (!targetOf(profile, f.at)) throw new RangeError(`the unit has no "${f.at}"`);
    this.bench.lay(profile, faults, seed);
    this.fault = 'hidden';
  }

  private lay(body: unknown): void {
    const { profile: id, fault, seed } = layInput.validateSync(body);
    const profile = shippedProfile(id);
    if (!profile) throw new RangeError(`there is no shipped profile "${id}"`);
    const laid = fault === 'hidden' ? hiddenFault(profile, seed) : parseFault(profile, fault);
    this.bench.lay(profile, [laid], seed);
    this.fault = fault;
  }
}
