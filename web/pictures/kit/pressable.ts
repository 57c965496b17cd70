import type { CSSProperties, KeyboardEvent, SVGAttributes } from 'react';

const STYLE: CSSProperties = { cursor: 'pointer' };

/**
 * What makes a part of a picture something to press, by hand or by keys.
 * @param label what it is; null where words stand in it, by which it is called then
 * @param isPressed whether it is the chosen one; null for what opens something and stays as it is
 */
export function pressable(
  label: string | null,
  isPressed: boolean | null,
  onPress: (pressed: SVGGElement) => void,
): SVGAttributes<SVGGElement> {
  return {
    role: 'button',
    tabIndex: 0,
    ...(label === null ? {} : { 'aria-label': label }),
    ...(isPressed === null ? {} : { 'aria-pressed': isPressed }),
    style: STYLE,
    onClick: (event) => onPress(event.currentTarget),
    onKeyDown: (event: KeyboardEvent<SVGGElement>) => {
      if (event.key !== 'Enter' && event.key !== ' ') return;
      event.preventDefault();
      onPress(event.currentTarget);
    },
  };
}
