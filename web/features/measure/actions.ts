'use server';

import { byHand } from '@/features/by-hand';
import { saveReading } from '@/server/work/opened/measure';
import { measureInput } from '@/server/work/opened/measure-input';

export const takeTyped = byHand(measureInput, saveReading);
