'use server';

import { byHand } from '@/features/by-hand';
import { saveReading } from '@/server/opened/measure';
import { measureInput } from '@/server/opened/measure-input';

export const takeTyped = byHand(measureInput, saveReading);
