import type { Knex } from 'knex';

export declare function applyCatalogues(knex: Knex, catalogues: Readonly<Record<string, unknown>>): Promise<void>;
