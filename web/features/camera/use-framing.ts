'use client';

import type { FramedNumber, Framing, Quad, ShownQuantity } from '@umbral/core/display';
import { useRef, useState, type RefObject } from 'react';
import { useSave } from '@/ui/kit/use-save';
import { keepFraming } from './actions';
import type { DisplayWatch, Found } from './display-watch';
import type { FoundInPicture } from './messages';
import { pictureOf } from './picture';

/** How numbers under each other usually follow on a supply or a meter. */
const usualOrder: ShownQuantity[] = ['volts', 'amps', 'watts'];
const usualCorners: Quad = [
  [0.3, 0.4],
  [0.7, 0.4],
  [0.7, 0.6],
  [0.3, 0.6],
];
const nothingFound: Found = { numbers: [], readsMirrored: false };
/** Pictures that numbers are looked for in, and how long after each the next is taken, ms. */
const [lookedAt, apartMs] = [4, 350];
const topOf = ({ corners }: FoundInPicture): number => Math.min(...corners.map((p) => p[1]));

/** What numbers that were found are taken for, from top to bottom. */
export function framingOf(found: readonly FoundInPicture[], isMirrored: boolean): Framing {
  const numbers = [...found]
    .sort((a, b) => topOf(a) - topOf(b))
    .map(({ corners, decimals }, k): FramedNumber => ({
      corners,
      decimals,
      quantity: usualOrder[k] ?? 'ignored',
      unit: 1,
    }));
  return { numbers, isMirrored };
}

function foundWords(count: number, readsMirrored: boolean): string {
  if (readsMirrored)
    return 'The other way round, more can be read. If the picture is mirrored, change “mirrored picture” and find again.';
  if (count === 0)
    return 'No numbers were found. Fill half the picture with the display, straight and without glare, or frame the numbers by hand.';
  return `${count === 1 ? 'One number was' : `${count} numbers were`} found. Choose what each one is, then save.`;
}

/** A number in the middle of the picture, to be dragged where it stands. */
function withOneMore(framing: Framing | null): Framing {
  const numbers = framing?.numbers ?? [];
  const quantity = usualOrder.find((q) => !numbers.some((n) => n.quantity === q)) ?? 'ignored';
  const added: FramedNumber = { quantity, unit: 1, decimals: null, corners: usualCorners };
  return { isMirrored: framing?.isMirrored ?? false, numbers: [...numbers, added] };
}

/** The framing of a display: as it was saved, or as it is being made. Only a saved one is told to the recorder. */
export function useFraming(
  watch: DisplayWatch | null,
  video: RefObject<HTMLVideoElement | null>,
  instrument: string,
  saved: Framing | null,
) {
  const [framing, setFraming] = useState(saved);
  const [isEditing, setEditing] = useState(saved === null);
  const [chosen, choose] = useState(0);
  const [says, say] = useState('');
  const finder = useFinder(watch, video);
  const { saving, save } = useSave();

  const change = (next: Framing): void => {
    setFraming(next);
    setEditing(true);
    if (next.numbers.length > 0) watch?.watch(next, false, null);
  };
  /** Reads with the saved framing, from now on. */
  const begin = (): void => {
    if (framing && framing.numbers.length > 0) watch?.watch(framing, !isEditing, isEditing ? null : instrument);
  };
  const find = async (): Promise<void> => {
    const isMirrored = framing?.isMirrored ?? false;
    const found = await finder.find(isMirrored);
    if (found === null && finder.wasCancelled()) return;
    const { numbers, readsMirrored } = found ?? nothingFound;
    say(foundWords(numbers.length, readsMirrored));
    if (numbers.length === 0) return;
    choose(0);
    change(framingOf(numbers, isMirrored));
  };
  const addByHand = (): void => {
    change(withOneMore(framing));
    choose(framing?.numbers.length ?? 0);
  };
  const keep = (): void => {
    if (!framing) return;
    save(() => keepFraming({ key: instrument, framing }), {
      then: () => {
        setEditing(false);
        say('');
        watch?.watch(framing, false, instrument);
      },
      failed: say,
    });
  };
  return {
    ...finder,
    framing,
    isEditing,
    edit: () => setEditing(true),
    chosen,
    choose,
    says,
    saving,
    change,
    begin,
    find,
    addByHand,
    keep,
  };
}

/** Looks for numbers in what the video shows now. */
function useFinder(watch: DisplayWatch | null, video: RefObject<HTMLVideoElement | null>) {
  /** How far it came, in words; empty where nothing is looked for. */
  const [finding, setFinding] = useState('');
  const asked = useRef(0);
  const cancelled = useRef(false);
  const [timesFound, countFound] = useState(0);
  const find = async (isMirrored: boolean): Promise<Found | null> => {
    const element = video.current;
    if (!watch || !element) return null;
    const mine = ++asked.current;
    cancelled.current = false;
    const isCancelled = (): boolean => asked.current !== mine;
    try {
      const pictures: ImageBitmap[] = [];
      for (let k = 0; k < lookedAt; k++) {
        setFinding(`picture ${k + 1} of ${lookedAt}`);
        if (k > 0) await new Promise((resolve) => setTimeout(resolve, apartMs));
        const picture = await pictureOf(element).catch(() => null);
        if (isCancelled()) return null;
        if (picture) pictures.push(picture);
      }
      if (pictures.length === 0) return null;
      setFinding('looking for numbers');
      const found = await watch.find(pictures, isMirrored);
      if (isCancelled()) return null;
      if (found.numbers.length > 0) countFound((n) => n + 1);
      return found;
    } finally {
      if (!isCancelled()) setFinding('');
    }
  };
  /** What is on its way is thrown away when it comes. */
  const cancel = (): void => {
    asked.current++;
    cancelled.current = true;
    setFinding('');
  };
  const wasCancelled = (): boolean => cancelled.current;
  return { wasCancelled, isFinding: finding !== '', finding, timesFound, find, cancel };
}
