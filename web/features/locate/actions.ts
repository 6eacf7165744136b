'use server';

import { action, question } from '@/features/action';
import { heatInput, saveHeat, readWarm, warmInput } from '@/server/opened/locate';

export const keepHeatSeen = action('technician', heatInput, saveHeat);

export const readSeenWarm = question('technician', warmInput, readWarm);
