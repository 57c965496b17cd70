/** Size of words in pictures, pixels. */
export const LABEL_SIZE = 12.5;

let measuring: CanvasRenderingContext2D | null | undefined;

/** Width of a text in pixels as the pictures set it; an estimate where there is no canvas. */
export function textWidth(text: string, fontSize: number, bold = false): number {
  if (measuring === undefined)
    measuring = typeof document === 'undefined' ? null : document.createElement('canvas').getContext('2d');
  if (!measuring) return text.length * fontSize * 0.56;
  measuring.font = `${bold ? 700 : 400} ${fontSize}px 'Atkinson Hyperlegible Next Variable', sans-serif`;
  return measuring.measureText(text).width;
}

/** Shortens a text to a width with an ellipsis in the end. */
export function fitText(text: string, fontSize: number, width: number, bold = false): string {
  if (textWidth(text, fontSize, bold) <= width) return text;
  let length = text.length;
  while (length > 1 && textWidth(`${text.slice(0, length)}…`, fontSize, bold) > width) length -= 1;
  return `${text.slice(0, length).trimEnd()}…`;
}
