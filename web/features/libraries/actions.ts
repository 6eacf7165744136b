'use server';

import { action } from '@/features/action';
import * as yup from 'yup';
import { putLibraryBack, removeLibrary } from '@/server/work/exchange/exchange';

/** Takes a library out, with all that it taught. */
export const takeLibraryOut = action('lead', yup.number().integer().positive().required(), removeLibrary);

/** Puts one back that was taken out. */
export const bringLibraryBack = action('lead', yup.number().integer().positive().required(), putLibraryBack);
