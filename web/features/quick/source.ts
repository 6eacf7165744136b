/** What is read: a typed line or a dropped log. */
export type QuickSource = { kind: 'typed'; line: string } | { kind: 'log'; file: File };
