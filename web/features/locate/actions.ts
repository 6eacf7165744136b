'use server';

import { action, question } from '@/features/action';
import { heatInput, keepHeat, readWarm, warmInput } from '@/server/opened/locate';

export const keepHeatSeen = action('technician', heatInput, keepHeat);

export const readSeenWarm = question('technician', warmInput, readWarm);
