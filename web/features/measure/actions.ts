'use server';

import { action } from '@/features/action';
import { takeReading } from '@/server/opened/measure';
import { measureInput } from '@/server/opened/measure-input';

export const takeTyped = action('technician', measureInput, takeReading);
