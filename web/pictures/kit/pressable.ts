import type { CSSProperties, KeyboardEvent, SVGAttributes } from 'react';

const STYLE: CSSProperties = { cursor: 'pointer' };

/**
 * What makes a part of a picture something to press, by hand or by keys; its label says what it is.
 * @param isPressed whether it is the chosen one; null for what opens something and stays as it is
 */
export function pressable(label: string, isPressed: boolean | null, onPress: () => void): SVGAttributes<SVGGElement> {
  return {
    role: 'button',
    tabIndex: 0,
    'aria-label': label,
    ...(isPressed === null ? {} : { 'aria-pressed': isPressed }),
    style: STYLE,
    onClick: onPress,
    onKeyDown: (event: KeyboardEvent) => {
      if (event.key !== 'Enter' && event.key !== ' ') return;
      event.preventDefault();
      onPress();
    },
  };
}
