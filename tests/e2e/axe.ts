import AxeBuilder from '@axe-core/playwright';
import { expect, type Page } from '@playwright/test';

/** Axe finds nothing on the page.
 *  @param rules Only these; all of WCAG 2.2 AA and good practice without any.
 *  @param only Some parts of the page; all of it without any. */
export async function clean(page: Page, where: string, { rules = [], only = [] }: { rules?: string[]; only?: string[] } = {}) {
  const axe = only.reduce((a, part) => a.include(part), new AxeBuilder({ page }));
  const asked = rules.length > 0 ? axe.withRules(rules) : axe.withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice']);
  const found = await asked.analyze();
  const lines = found.violations.flatMap((v) => v.nodes.map((n) => `${v.id}: ${n.html.slice(0, 160)} ${n.any[0]?.message ?? ''}`));
  expect(lines, where).toEqual([]);
}
