import { route } from '@/server/platform/route';
import { unknownOutputs } from '@/server/recorder/outputs';

export const dynamic = 'force-dynamic';

/** Supplies whose output may be on and cannot be switched off from here; every page asks. */
export const GET = route('present', () => unknownOutputs());
