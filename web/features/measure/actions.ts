'use server';

import { action } from '@/features/action';
import { takeReading } from '@/server/measure';
import { measureInput } from '@/server/measure-input';

export const takeTyped = action('technician', measureInput, takeReading);
