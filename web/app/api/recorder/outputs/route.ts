import { route } from '@/server/edges/route';
import { unknownOutputs } from '@/server/edges/recorder/outputs';

export const dynamic = 'force-dynamic';

/** Supplies whose output may be on and cannot be switched off from here; every page asks. */
export const GET = route('present', () => unknownOutputs());
