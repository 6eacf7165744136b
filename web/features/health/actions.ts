'use server';

import * as yup from 'yup';
import { action, question } from '@/features/action';
import { backupState, backUpNow } from '@/server/work/shop/backup-now';

const nothing = yup.object({});

export const backUp = action('lead', nothing, () => backUpNow());

export const askBackup = question('lead', nothing, () => backupState());
