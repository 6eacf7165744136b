'use client';

import dynamic from 'next/dynamic';
import { useState } from 'react';
import type { MenuProps } from './menu-props';

const LoadedMenu = dynamic(() => import('./loaded-menu').then((m) => m.LoadedMenu), { ssr: false });

/** A menu behind a button. What draws the open menu is loaded at the first press, not with the page. */
export function ActionMenu(props: MenuProps) {
  const [wanted, setWanted] = useState(false);
  if (wanted) return <LoadedMenu {...props} />;
  return (
    <button
      type="button"
      className={props.className}
      aria-label={props.label}
      title={props.label}
      aria-haspopup="menu"
      aria-expanded={false}
      disabled={props.disabled}
      onClick={() => setWanted(true)}
    >
      {props.icon}
    </button>
  );
}
