import { expect, test } from '@playwright/test';
import { measuredLaunch } from '../hands.ts';
import { practiceMeter } from '../practice.ts';

/** Long: a plan with hidden faults, and a ranking after each reading. */
test('failing readings become cases; one key after another the ranking is sure; the paper that was wrong becomes a revision', async ({
  page,
}) => {
  const meter = await practiceMeter(
    'work-launch.json',
    [
      { kind: 'misplaced', connector: 'PANEL', from: '8', to: '9' },
      { kind: 'resistive', wire: 'W64', end: 'to', ohm: 1.8 },
    ],
    21,
  );
  await measuredLaunch(page, 'Launch Turnstone', meter.name);

  // Two faults, two cases; each with its own readings.
  await page.getByRole('link', { name: 'Faults', exact: true }).click();
  const cases = page.getByRole('region', { name: 'Not logged yet' }).getByRole('button');
  await expect(cases).toHaveCount(2);
  await expect(cases.nth(1)).toContainText('Too much resistance in W64');
  await expect(page.getByRole('heading', { name: '1 reading is not as drawn' })).toBeVisible();
  await page.getByRole('button', { name: 'Log this fault' }).click();
  await expect(page.getByRole('heading', { name: /^Fault 1:/ })).toBeVisible();

  // Space takes the measurement that tells most, until it is sure enough.
  const sure = page.getByRole('heading', {
    name: 'Sure enough: nothing more to measure',
  });
  const kept = page.getByText('Kept.');
  for (let taken = 0; taken < 5 && !(await sure.isVisible()); taken++) {
    const asked = await page
      .getByRole('paragraph')
      .filter({ hasText: /^(While the loom is moved, m|M)easure / })
      .textContent();
    await page.keyboard.press(' ');
    await expect(kept).toBeVisible();
    await expect(page.getByText(asked ?? '', { exact: true })).toHaveCount(0);
  }
  await expect(sure).toBeVisible();
  const first = page.getByRole('listitem').filter({ hasText: 'PANEL: contact of cavity 8 stands in 9' });
  await expect(first).toContainText('> 99 %');
  await expect(
    page.getByRole('img', {
      name: /PANEL, wire side, cavity 9 ringed.*cavity 8 ringed/,
    }),
  ).toBeVisible();
  await expect(page.getByRole('table').filter({ hasText: 'the plan' })).toBeVisible();

  // On a narrow screen the stem comes to the connector that the cause is at, and the page stays at its top.
  await page.setViewportSize({ width: 390, height: 844 });
  await page.reload();
  const tag = page.getByRole('navigation', { name: /^Stem/ }).getByRole('button', { name: /^PANEL,/ });
  await expect(tag).toBeInViewport({ ratio: 0.9 });
  expect(await page.evaluate(() => [window.scrollX, window.scrollY])).toEqual([0, 0]);
  await page.setViewportSize({ width: 1280, height: 800 });

  // Somebody types what they thought of themselves; nonsense is refused where it stands.
  await page.getByText('Something else was measured').click();
  await page.getByLabel('One side').fill('PANEL:99');
  await page.getByLabel('It reads').fill('1.2');
  await page.getByRole('button', { name: 'Keep it' }).click();
  await expect(page.getByText('This loom has no cavity PANEL:99.')).toBeVisible();

  // The metal wins.
  const paper = page.getByRole('region', {
    name: 'The paper says, the metal says',
  });
  await expect(paper.getByRole('row').filter({ hasText: 'W61' })).toContainText('X1:22 to PANEL:9');
  await paper.getByRole('button', { name: 'The paper was wrong: correct the drawing' }).click();
  await expect(page).toHaveURL(/revisions/);
  await expect(page.getByText(/^B$|revision B/i).first()).toBeVisible();

  // The shop's log knows it by what was seen, found and done.
  await page.goto(new URL('/faults', page.url()).href);
  await page.getByLabel('Search').fill('turnstone');
  const line = page.getByRole('row').filter({ hasText: 'Launch Turnstone' });
  await expect(line).toContainText('The drawing was wrong: PANEL: contact of cavity 8 stands in 9');
  await expect(line).toContainText('drawing corrected');
  await page.getByRole('combobox', { name: 'Kind' }).selectOption('swap');
  await expect(page.getByText('No fault is like that.')).toBeVisible();
  await expect(page).toHaveURL(/words=turnstone&kind=swap/);
});
