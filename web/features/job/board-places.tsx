'use client';

import { Fragment } from 'react';
import Link, { useGo } from '@/ui/link';
import { useKey } from '@/ui/keys';
import { jobPlaceIds, jobPlaces } from './places';

/** Where the work at the opened device is done, and where it is proven and told. */
export function BoardPlaces({ jobId, isChanged, isClosed }: { jobId: number; isChanged: boolean; isClosed: boolean }) {
  return (
    <nav aria-label="Job sections" className="grid grid-cols-2 gap-2">
      {jobPlaceIds.map((id) => {
        const { name, key, button } = jobPlaces[id];
        const href = `/jobs/${jobId}/${id}`;
        return (
          <Fragment key={id}>
            {key && <PlaceKey letter={key[0]} says={key[1]} href={href} />}
            {button?.isShown({ isChanged, isClosed }) && (
              <Link className="button" href={href}>
                <button.Icon size={17} aria-hidden /> {name} {key && <kbd>{key[0]}</kbd>}
              </Link>
            )}
          </Fragment>
        );
      })}
    </nav>
  );
}

function PlaceKey({ letter, says, href }: { letter: string; says: string; href: string }) {
  const go = useGo();
  useKey(letter, says, () => go(href));
  return null;
}
