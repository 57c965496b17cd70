import type { Page } from 'puppeteer-core';

/** What is wrong with a screen, in the words that stand there. */
export interface Findings {
  /** Words that run into each other. */
  overlaps: string[];
  /** Words beyond the edge of the window. */
  outside: string[];
  /** Words cut off without an ellipsis. */
  clipped: string[];
  /** Elements that can be scrolled sideways. */
  sideways: string[];
  /** Words of a contrast under 4.5 to 1 with their ground. */
  faint: string[];
  /** Share of the window that its pictures take. */
  pictureShare: number;
}

/** Looks at what is drawn: places of words, what is cut off, and contrast. */
export function inspect(page: Page): Promise<Findings> {
  return page.evaluate(() => {
    const dialog = document.querySelector('[role="dialog"]');
    const ground = dialog ?? document.body;
    const within = (element: Element): DOMRect => {
      // Of what lies in a box that scrolls, only the part inside it is seen.
      const box = element.getBoundingClientRect();
      let { left, top, right, bottom } = box;
      for (let up = element.parentElement; up; up = up.parentElement) {
        const { overflowX, overflowY } = getComputedStyle(up);
        if (overflowX === 'visible' && overflowY === 'visible') continue;
        const port = up.getBoundingClientRect();
        left = Math.max(left, port.left);
        top = Math.max(top, port.top);
        right = Math.min(right, port.right);
        bottom = Math.min(bottom, port.bottom);
      }
      return new DOMRect(left, top, Math.max(0, right - left), Math.max(0, bottom - top));
    };
    const words = [
      ...ground.querySelectorAll('text, tspan, p, span, b, i, h1, h2, h3, td, th, li, div, button, a, label'),
    ]
      .filter((element) =>
        [...element.childNodes].some((node) => node.nodeType === Node.TEXT_NODE && node.nodeValue!.trim() !== ''),
      )
      .filter((element) => getComputedStyle(element).visibility !== 'hidden')
      .flatMap((element) => {
        const range = document.createRange();
        range.selectNodeContents(element);
        const isDrawn = element.namespaceURI === 'http://www.w3.org/2000/svg';
        // A sentence over two lines is two boxes: other words may stand between their corners.
        const lines = isDrawn ? [element.getBoundingClientRect()] : [...range.getClientRects()];
        const seen = within(element);
        return lines.map((own) => {
          const [left, top] = [Math.max(own.left, seen.left), Math.max(own.top, seen.top)];
          const box = new DOMRect(
            left,
            top,
            Math.min(own.right, seen.right) - left,
            Math.min(own.bottom, seen.bottom) - top,
          );
          return { element, text: element.textContent.trim().slice(0, 60), box };
        });
      })
      .filter(({ box }) => box.width > 1 && box.height > 1);
    const related = (a: Element, b: Element) => a.contains(b) || b.contains(a);
    const overlaps: string[] = [];
    for (const [index, one] of words.entries()) {
      for (const other of words.slice(index + 1)) {
        const width = Math.min(one.box.right, other.box.right) - Math.max(one.box.left, other.box.left);
        if (width <= 2) continue;
        const height = Math.min(one.box.bottom, other.box.bottom) - Math.max(one.box.top, other.box.top);
        // Line boxes are taller than their letters: a few pixels of them may meet.
        if (height > 5 && !related(one.element, other.element)) overlaps.push(`${one.text} × ${other.text}`);
      }
    }
    const outside = words
      .filter(({ box }) => box.right > innerWidth + 1 || box.bottom > innerHeight + 1 || box.left < -1 || box.top < -1)
      .map(({ text }) => text);
    const cuts = (element: Element): boolean => {
      const { overflowX, textOverflow } = getComputedStyle(element);
      return overflowX === 'hidden' && textOverflow !== 'ellipsis' && element.scrollWidth > element.clientWidth + 1;
    };
    const clipped = words.filter(({ element }) => cuts(element)).map(({ text }) => text);
    const sideways = [...ground.querySelectorAll('*'), document.documentElement]
      .filter((element) => element.scrollWidth > element.clientWidth + 1 && element.clientWidth > 0)
      .filter(
        (element) =>
          ['auto', 'scroll'].includes(getComputedStyle(element).overflowX) || element === document.documentElement,
      )
      .map((element) => `${element.tagName.toLowerCase()} ${element.textContent?.slice(0, 40) ?? ''}`);

    type Colour = [number, number, number, number];
    const canvas = document.createElement('canvas').getContext('2d', { willReadFrequently: true })!;
    const colourOf = (css: string): Colour => {
      canvas.clearRect(0, 0, 1, 1);
      canvas.fillStyle = css;
      canvas.fillRect(0, 0, 1, 1);
      const [red, green, blue, alpha] = canvas.getImageData(0, 0, 1, 1).data;
      return [red!, green!, blue!, alpha! / 255];
    };
    const over = (top: Colour, below: Colour, opacity = 1): Colour => {
      const alpha = top[3] * opacity;
      return [0, 1, 2].map((at) => top[at]! * alpha + below[at]! * (1 - alpha)).concat(1) as Colour;
    };
    const luminance = (colour: Colour) => {
      const [red, green, blue] = colour.slice(0, 3).map((value) => {
        const share = value / 255;
        return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4;
      });
      return 0.2126 * red! + 0.7152 * green! + 0.0722 * blue!;
    };
    const backgroundOf = (element: Element): Colour => {
      const chain: Colour[] = [];
      for (let up: Element | null = element; up; up = up.parentElement) {
        const colour = colourOf(getComputedStyle(up).backgroundColor);
        if (colour[3] > 0) chain.push(colour);
        if (colour[3] === 1) break;
      }
      return chain.reverse().reduce<Colour>((below, top) => over(top, below), [255, 255, 255, 1]);
    };
    /** Shapes of the same picture that lie under the middle of a word and were drawn before it. */
    const shapeUnder = (element: SVGElement, box: DOMRect): Colour => {
      let colour = backgroundOf(element.ownerSVGElement!.parentElement!);
      const [x, y] = [box.left + box.width / 2, box.top + box.height / 2];
      for (const shape of element.ownerSVGElement!.querySelectorAll('rect, path')) {
        if (!(shape.compareDocumentPosition(element) & Node.DOCUMENT_POSITION_FOLLOWING)) break;
        const { fill, opacity, fillOpacity } = getComputedStyle(shape);
        const at = shape.getBoundingClientRect();
        if (fill === 'none' || fill.startsWith('url') || shape.closest('defs')) continue;
        if (x < at.left || x > at.right || y < at.top || y > at.bottom) continue;
        const drawn = shape as SVGGeometryElement;
        const inShape = new DOMPoint(x, y).matrixTransform(drawn.getScreenCTM()!.inverse());
        if (!drawn.isPointInFill(inShape)) continue;
        colour = over(colourOf(fill), colour, Number(opacity) * Number(fillOpacity));
      }
      return colour;
    };
    const faint = words
      .filter(({ element }) => !element.closest('[disabled], [aria-disabled="true"]'))
      .flatMap(({ element, text, box }) => {
        const isDrawn = element instanceof SVGElement;
        // Words with a halo have the ground of the page around them, whatever lies under it.
        const hasHalo = isDrawn && getComputedStyle(element).paintOrder.startsWith('stroke');
        const below = isDrawn
          ? hasHalo
            ? backgroundOf(element.ownerSVGElement!.parentElement!)
            : shapeUnder(element, box)
          : backgroundOf(element);
        const style = getComputedStyle(element);
        const ink = over(colourOf(isDrawn ? style.fill : style.color), below, isDrawn ? Number(style.opacity) : 1);
        const [light, dark] = [luminance(ink), luminance(below)].sort((a, b) => b - a);
        const contrast = (light! + 0.05) / (dark! + 0.05);
        return contrast < 4.5 ? [`${text}: ${contrast.toFixed(1)}`] : [];
      });
    const pictures = [...document.querySelectorAll('main [data-picture]')].map((picture) =>
      picture.getBoundingClientRect(),
    );
    const area = pictures.reduce((sum, { width, height }) => sum + width * height, 0);
    const pictureShare = area / (innerWidth * innerHeight);
    const once = (list: string[]) => [...new Set(list)];
    return {
      overlaps: once(overlaps),
      outside: once(outside),
      clipped: once(clipped),
      sideways: once(sideways),
      faint: once(faint),
      pictureShare,
    };
  });
}
