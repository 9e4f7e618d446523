import { expect, test } from '@playwright/test';
import { measuredLaunch } from '../hands.ts';
import { practiceMeter } from '../practice.ts';

/** Long: causes are ranked anew after each look. */
test('what does not work with power on becomes a case, looks lead to its cause, and it is proven by seeing it right', async ({
  page,
}) => {
  const meter = await practiceMeter('work-launch.json', [], 22);
  await measuredLaunch(page, 'Launch Dunlin', meter.name);

  // The bare loom is right, and yet an injector does not fire.
  await page.getByRole('link', { name: 'Faults', exact: true }).click();
  const saw = async (works: string, name = 'Injector 3 fires') => {
    await page.getByText('Something was seen, with power or by eye').click();
    await page.getByRole('combobox', { name: 'Function' }).selectOption(name);
    await page.getByRole('combobox', { name: 'It', exact: true }).selectOption(works);
    await page.getByRole('button', { name: 'Keep it' }).last().click();
  };
  await saw('does not work');
  await expect(page.getByRole('heading', { name: 'What was seen is not as drawn' })).toBeVisible();
  await expect(page.getByText('‘Injector 3 fires’ does not work (key on).', { exact: true })).toBeVisible();

  // It asks for what tells most; an injector that is open by itself is the cause.
  await page.getByText('Something was seen, with power or by eye').click();
  await page.getByRole('combobox', { name: 'What' }).selectOption('a device by itself');
  await page.getByRole('combobox', { name: 'Device' }).selectOption('injector-3');
  await page.getByLabel('It measures').fill('OL');
  await page.getByRole('button', { name: 'Keep it' }).last().click();
  const first = page
    .getByRole('article')
    .getByRole('listitem')
    .filter({ hasText: 'Injector 3 does nothing, or its plug is off' });
  await expect(first).toContainText('99 %');
  await expect(
    page.getByRole('table').filter({ hasText: 'the device injector-3 by itself measures over range' }),
  ).toBeVisible();

  // From the case to a fault that no step of the plan shows, and to its end.
  await page.getByRole('button', { name: 'Log this fault' }).click();
  await expect(page.getByText('what was seen beside the plan')).toBeVisible();
  await page.getByRole('button', { name: 'This is it' }).first().click();
  await expect(page.getByRole('heading', { name: /Injector 3 does nothing/ })).toBeVisible();
  await page.getByLabel('Done', { exact: true }).selectOption('other');
  await page.getByRole('button', { name: 'Record the fix' }).click();
  await expect(page.getByText('To be seen again, and right:')).toBeVisible();
  await saw('works');
  await expect(page.getByText('Kept.')).toBeVisible();
});
