import {
  fullScaleA,
  healthyBand,
  shippedProfiles,
  unknownInstrument,
  unknownSetup,
  type BandStep,
  type Feed,
  type Run,
} from '@umbral/core';
import { loadCameras, type CameraInstrument } from '@/server/edges/recorder/cameras';
import { actionWords } from '@/features/job/story-view';
import { setupFormOf, type SetupForm } from '@/features/record/setup-form';
import { jobNumber } from '@/features/words';
import { db } from '@/server/record/db';
import { loadContent } from '@/server/work/jobs/jobs';
import { findProfile } from '@/server/work/shop/profiles';
import { deviceOf } from '@/server/work/entries/record';
import { boundsOf, leftRecordings } from '@/server/work/entries/recordings';
import { runOf } from '@/server/record/rows';
import type { FeedFacts } from './arm-checks';
import { presetsOf, type LastSet, type Preset } from './presets';

export interface LiveView {
  jobId: number;
  title: string;
  form: SetupForm;
  presets: Preset[];
  lastSet: LastSet;
  facts: Record<SetupForm['feed'], FeedFacts>;
  actions: { key: string; words: string }[];
  /** What can be unplugged of this model, by name. */
  parts: string[];
  peripherals: { id: string; name: string }[];
  bands: Record<SetupForm['feed'], BandStep[]>;
  fullA: Record<SetupForm['feed'], number>;
  models: { id: string; name: string }[];
  profile: string | null;
  /** A unit to practise on: it, and no other device, is laid on the simulated bench. */
  isPractice: boolean;
  left: { id: number; says: string }[];
  /** Instruments whose display a camera reads. */
  cameras: CameraInstrument[];
}

/** Everything that the page for recording shows before the instruments answer. */
export async function loadLiveView(jobId: number): Promise<LiveView> {
  const q = db();
  const content = await loadContent(q, jobId);
  const device = deviceOf(content);
  const known = content.job.profile ? await findProfile(q, content.job.profile, content.job.profile_version) : null;
  const last = content.runs.at(-1);
  const band = (feed: Feed) => {
    const run: Run = { ...emptyRun, feed };
    return healthyBand(device, run, feed === 'usb-c' ? 5 : boundsOf(device, feed, known?.profile ?? null).maxV / 1.1);
  };
  const left = await leftRecordings(q, jobId);
  const lastSet: LastSet = Object.fromEntries(content.runs.map((r) => [r.feed, formOfRun(runOf(r))]));
  const presets = presetsOf(device, known?.profile ?? null, last ? formOfRun(runOf(last)) : null, lastSet);
  const bands = { battery: band('battery'), 'usb-c': band('usb-c'), 'dc-in': band('dc-in') };
  const factsOf = (feed: Feed): FeedFacts => ({
    ...boundsOf(device, feed, known?.profile ?? null),
    healthyPeakA: bands[feed].length === 0 ? null : Math.max(...bands[feed].map((b) => b.high)),
  });
  return {
    jobId,
    title: `Job ${jobNumber(jobId)} · ${content.job.label}`,
    form: presets[0].form,
    presets,
    lastSet,
    facts: { battery: factsOf('battery'), 'usb-c': factsOf('usb-c'), 'dc-in': factsOf('dc-in') },
    peripherals: known?.profile.peripherals.map(({ id, name }) => ({ id, name })) ?? [],
    parts: known?.profile.peripherals.map((p) => p.name) ?? [],
    actions: content.actions.map((a) => ({ key: a.action_key, words: actionWords(a) })),
    bands,
    fullA: {
      battery: fullScaleA(device, 'battery'),
      'usb-c': fullScaleA(device, 'usb-c'),
      'dc-in': fullScaleA(device, 'dc-in'),
    },
    models: shippedProfiles.filter((p) => !p.generic).map(({ id, name }) => ({ id, name })),
    profile: shippedProfiles.some((p) => p.id === content.job.profile && !p.generic) ? content.job.profile : null,
    isPractice: content.job.is_practice,
    cameras: await loadCameras(),
    left: left.map((r) => ({
      id: r.id,
      says: `${r.state === 'interrupted' ? `broke off${r.problem ? ` (${r.problem})` : ''}` : 'ended'}, ${r.instrument_key}, ${r.started_at.toISOString().slice(0, 16).replace('T', ' ')} UTC`,
    })),
  };
}

const emptyRun: Run = {
  id: '',
  file: null,
  typed: null,
  feed: 'battery',
  quantity: 'current',
  instrument: unknownInstrument,
  setup: unknownSetup,
  markers: [],
  contract: null,
  after: null,
};

/** The setup of the last run is the likeliest of the next one; what follows what is said anew. */
const formOfRun = (run: Run): SetupForm => setupFormOf({ run });
