'use server';

import { action } from '@/features/action';
import { saveReading } from '@/server/opened/measure';
import { measureInput } from '@/server/opened/measure-input';

export const takeTyped = action('technician', measureInput, saveReading);
