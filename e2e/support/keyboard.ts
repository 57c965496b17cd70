import type { ElementHandle, KeyInput, Page } from 'puppeteer-core';

/** More keys than lead round any of the pages once. */
const MOST_KEYS = 300;

/** Groups through which arrows lead, up and down or along: Tab comes to one of a group and leads past the others. */
const GROUPS = '[role="radiogroup"], [role="listbox"], [role="menu"], [role="tablist"], [role="group"]';
const ALONG = '[role="tablist"], [role="group"]';

/** The first element so described that can have the focus: itself, or what it stands in. */
async function focusable(page: Page, selector: string): Promise<ElementHandle<HTMLElement>> {
  await page.waitForSelector(selector);
  const found = await page.$$(selector);
  for (const one of found) {
    const handle = await one.evaluateHandle((element) =>
      element.closest('a[href], button:enabled, input:enabled, textarea:enabled, [tabindex]'),
    );
    const element = handle.asElement();
    if (element) return element as ElementHandle<HTMLElement>;
  }
  throw new Error(`${selector} cannot have the focus.`);
}

/**
 * Brings the focus to an element by keys alone, as somebody does who has no mouse: by Tab from one thing to the next, and
 * by arrows within a group of choices.
 * @throws Error when it cannot be reached, with what the focus passed on the way
 */
export async function reach(page: Page, selector: string): Promise<ElementHandle<HTMLElement>> {
  let element = await focusable(page, selector);
  const passed = new Set<string>();
  for (let keys = 0; keys < MOST_KEYS; keys += 1) {
    const { isGone, isThere, key, label } = await element.evaluate(
      (wanted, groups, along) => {
        const active = document.activeElement ?? document.body;
        const group = active.closest(groups);
        const isInGroup = wanted.tabIndex < 0 && group?.contains(wanted) === true;
        const isBefore = (active.compareDocumentPosition(wanted) & Node.DOCUMENT_POSITION_PRECEDING) > 0;
        const [back, on] = group?.matches(along) ? ['ArrowLeft', 'ArrowRight'] : ['ArrowUp', 'ArrowDown'];
        return {
          isGone: !wanted.isConnected,
          isThere: active === wanted,
          key: isInGroup ? (isBefore ? back : on) : 'Tab',
          label: (active.getAttribute('aria-label') ?? active.textContent).trim().slice(0, 30),
        };
      },
      GROUPS,
      ALONG,
    );
    if (isThere) return element;
    // What depends on what was just chosen is drawn anew.
    if (isGone) element = await focusable(page, selector);
    passed.add(label);
    await page.keyboard.press(key as KeyInput);
  }
  throw new Error(`${selector} is not to be reached by keys; passed were: ${[...passed].join(' · ')}`);
}

/** Presses the element that a selector describes by keys alone. */
export async function pressByKeys(page: Page, selector: string): Promise<void> {
  const element = await reach(page, selector);
  // A choice is made by Space, where Enter would be the button of its form.
  const isChoice = await element.evaluate((one) =>
    /^(radio|checkbox)$/.test(one.getAttribute('role') ?? (one as HTMLInputElement).type),
  );
  await page.keyboard.press(isChoice ? 'Space' : 'Enter');
}
