import type { ElementHandle, Page } from 'puppeteer-core';

/** More keys than lead round any of the pages once. */
const MOST_KEYS = 300;

/** Groups through which arrows lead; Tab leads past them. */
const GROUPS = '[role="radiogroup"], [role="listbox"], [role="menu"], [role="tablist"]';

/** The first element so described that can have the focus: itself, or what it stands in. */
async function focusable(page: Page, selector: string): Promise<ElementHandle> {
  await page.waitForSelector(selector);
  const found = await page.$$(selector);
  for (const one of found) {
    const handle = await one.evaluateHandle((element) =>
      element.closest('a[href], button:enabled, input:enabled, textarea:enabled, [tabindex]'),
    );
    const element = handle.asElement();
    if (element) return element as ElementHandle;
  }
  throw new Error(`${selector} cannot have the focus.`);
}

/**
 * Brings the focus to an element by keys alone, as somebody does who has no mouse: by Tab from one thing to the next, and
 * by arrows within a group of choices.
 * @throws Error when it cannot be reached, with what the focus passed on the way
 */
export async function reach(page: Page, selector: string): Promise<ElementHandle> {
  const element = await focusable(page, selector);
  const passed = new Set<string>();
  for (let keys = 0; keys < MOST_KEYS; keys += 1) {
    const { isThere, isInGroup, label } = await element.evaluate((wanted, groups) => {
      const active = document.activeElement ?? document.body;
      return {
        isThere: active === wanted,
        isInGroup: active.closest(groups)?.contains(wanted) ?? false,
        label: (active.getAttribute('aria-label') ?? active.textContent).trim().slice(0, 30),
      };
    }, GROUPS);
    if (isThere) return element;
    passed.add(label);
    await page.keyboard.press(isInGroup ? 'ArrowDown' : 'Tab');
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
