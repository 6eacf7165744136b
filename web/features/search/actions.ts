'use server';

import * as yup from 'yup';
import { question } from '@/features/action';
import { searchAll } from './queries';

const searchInput = yup.string().trim().max(200, 'Search: at most 200 characters').default('');

/** Everything that is called so, or stood at such a level. */
export const search = question('technician', searchInput, searchAll);
