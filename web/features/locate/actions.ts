'use server';

import { question } from '@/features/action';
import { byHand } from '@/features/by-hand';
import { heatInput, saveHeat, readWarm, warmInput } from '@/server/work/opened/locate';

export const keepHeatSeen = byHand(heatInput, saveHeat);

export const readSeenWarm = question('technician', warmInput, readWarm);
