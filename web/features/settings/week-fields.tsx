'use client';

import { useId } from 'react';
import { days } from './week';

/** The hours of a week, a line a day, as they are typed: 08:00-12:00, 13:00-17:00. */
export function WeekFields({
  week,
  placeholder,
  onChange,
}: {
  week: readonly string[];
  placeholder: string;
  onChange: (week: string[]) => void;
}) {
  const id = useId();
  return days.map((day, d) => (
    <div key={day} className="grid grid-cols-[6.5rem_minmax(0,1fr)] items-center gap-2">
      <label htmlFor={`${id}-${d}`}>{day}</label>
      <input
        id={`${id}-${d}`}
        className="field"
        placeholder={placeholder}
        value={week[d]}
        onChange={(e) => onChange(week.map((x, k) => (k === d ? e.target.value : x)))}
      />
    </div>
  ));
}
