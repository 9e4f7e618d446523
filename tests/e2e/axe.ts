import AxeBuilder from '@axe-core/playwright';
import { expect, type Page } from '@playwright/test';

/** Axe finds nothing on the page: all of WCAG 2.2 AA and good practice by day; by night the contrast, since only colours are others; on a phone what scrolls.
 *  @param only Some parts of the page; all of it without any.
 *  @param but Parts that have been looked at before. */
export async function clean(page: Page, where: string, { only = [], but = [] }: { only?: string[]; but?: string[] } = {}) {
  const axe = () => but.reduce((a, part) => a.exclude(part), only.reduce((a, part) => a.include(part), new AxeBuilder({ page })));
  const found = async (asked: AxeBuilder) =>
    (await asked.analyze()).violations.flatMap((v) => v.nodes.map((n) => `${v.id}: ${n.html.slice(0, 160)} ${n.any[0]?.message ?? ''}`));
  await page.emulateMedia({ colorScheme: 'light', reducedMotion: 'reduce' });
  expect(await found(axe().withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'])), where).toEqual([]);
  // Colours by night are those of the whole application, and so is what scrolls: some pages for each change, all before a release.
  const deep = process.env.WISELOOM_DEEP === '1';
  if (deep || where.length % 3 === 0) {
    await page.emulateMedia({ colorScheme: 'dark' });
    expect(await found(axe().withRules(['color-contrast'])), `${where}, by night`).toEqual([]);
    await page.emulateMedia({ colorScheme: 'light' });
  }

  // What is wide scrolls on a phone, by keyboard too.
  if (!deep && where.length % 3 !== 1) return;
  const size = page.viewportSize();
  await page.setViewportSize({ width: 390, height: 844 });
  expect(await found(axe().withRules(['scrollable-region-focusable'])), `${where}, on a phone`).toEqual([]);
  if (size) await page.setViewportSize(size);
}
