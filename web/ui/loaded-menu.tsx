'use client';

import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import { useEffect, useRef } from 'react';
import type { MenuProps } from './menu-props';

/** The menu itself; opens as soon as it is there, since it was loaded by a press. */
export function LoadedMenu({ label, icon, entries, className, anchor, disabled }: MenuProps) {
  const button = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    const open = (): void => {
      if (button.current?.getAttribute('aria-expanded') === 'true') return;
      button.current?.focus();
      button.current?.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowDown', bubbles: true }));
    };
    open();
    // The press that loaded it may not be over yet, and close it again.
    const frame = requestAnimationFrame(open);
    return () => cancelAnimationFrame(frame);
  }, []);
  return (
    <Menu>
      <MenuButton ref={button} className={className} aria-label={label} title={label} disabled={disabled}>
        {icon}
      </MenuButton>
      <MenuItems anchor={anchor} className="z-40 min-w-44 rounded-xl border border-line bg-raised p-1 shadow-lg">
        {entries.map((entry) => (
          <MenuItem key={entry.text}>
            {entry.href ? (
              <a className="flex min-h-9 items-center rounded-lg px-3 data-focus:bg-paper" href={entry.href} download>
                {entry.text}
              </a>
            ) : (
              <button
                type="button"
                className={`block min-h-9 w-full rounded-lg px-3 text-left data-focus:bg-paper ${entry.danger ? 'text-decide' : ''}`}
                onClick={entry.act}
              >
                {entry.text}
              </button>
            )}
          </MenuItem>
        ))}
      </MenuItems>
    </Menu>
  );
}
