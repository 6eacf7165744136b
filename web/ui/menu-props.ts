import type { ReactNode } from 'react';

export interface MenuEntry {
  text: string;
  act?: () => void;
  /** A download instead of an act. */
  href?: string;
  danger?: boolean;
}

export interface MenuProps {
  label: string;
  icon: ReactNode;
  entries: MenuEntry[];
  className: string;
  anchor: 'bottom start' | 'bottom end';
  disabled?: boolean;
}
