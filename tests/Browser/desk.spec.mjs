import { readFileSync } from 'node:fs';
import { test, expect } from '@playwright/test';
import { accessible } from './accessible.mjs';
import { signedIn } from './sign-in.mjs';

test.describe('the desk', () => {
  let context, page;
  test.beforeAll(async ({ browser, baseURL }) => {
    context = await browser.newContext({ baseURL, storageState: await signedIn(baseURL, 'Ilse Varga') });
    page = await context.newPage();
  });
  test.afterAll(() => context.close());

  test('what waits is settled by keyboard alone, without a reload, and undone', async () => {
    await page.goto('/intake');
    const left = async () => Number(await page.locator('#intake .tally').textContent());
    const begun = await left();
    expect(begun).toBeGreaterThan(3);
    await accessible(page);
    await page.evaluate(() => {
      window.stayed = true;
    });
    const first = await page.locator('#intake h2').textContent();
    await expect(page.getByLabel('Title')).toBeFocused();
    await page.keyboard.type('Looked at <once>');
    await page.keyboard.press('Tab');
    await page.keyboard.type('stern door, by keyboard');
    await page.keyboard.press('Tab');
    await page.keyboard.type('Inspections');
    await page.keyboard.press('Enter');
    await expect(page.locator('#intake h2')).not.toHaveText(first);
    expect(await left()).toBe(begun - 1);
    await expect(page.getByLabel('Title')).toBeFocused();
    // What cannot be is said, and nothing that was typed is lost.
    await page.getByLabel('Title').fill('kept');
    await page.getByLabel('Dossier').fill('There is none');
    await page.keyboard.press('Enter');
    await expect(page.locator('#intake').getByRole('alert')).toContainText('There is no dossier “There is none”');
    await expect(page.getByLabel('Title')).toHaveValue('kept');
    expect(await page.evaluate(() => window.stayed)).toBe(true);
    await page.goto('/dossiers');
    await page.getByRole('link', { name: 'Inspections' }).click();
    await expect(page.getByRole('link', { name: 'Looked at <once>' })).toBeVisible();
    await accessible(page);
    // Another one, and back with it.
    await page.goto('/intake');
    const second = await page.locator('#intake h2').textContent();
    // Boxes offer what there is, and what could suit the page is added by a press.
    await page.getByLabel('Tags').focus();
    await page.keyboard.type('one of them, to ch');
    await expect(page.getByRole('option', { name: 'to check' })).toBeVisible();
    await accessible(page);
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('Enter');
    await expect(page.getByLabel('Tags')).toHaveValue('one of them, to check, ');
    await page.keyboard.press('Tab');
    await page.keyboard.type('insp');
    await expect(page.getByRole('option', { name: 'Inspections' })).toBeVisible();
    await page.keyboard.press('Escape');
    await expect(page.getByRole('listbox')).toHaveCount(0);
    await page.getByLabel('Dossier').fill('');
    await page.locator('.suggested button').first().click();
    await expect(page.getByLabel('Tags')).toHaveValue(/^one of them, to check, .+/);
    await page.keyboard.press('Enter');
    await expect(page.locator('#intake h2')).not.toHaveText(second);
    await page.locator('main').focus();
    await page.keyboard.press('u');
    await expect(page.locator('#intake h2')).toHaveText(second);
    await page.locator('main').focus();
    await page.keyboard.press('l');
    await expect(page.locator('#intake h2')).not.toHaveText(second);
    expect(await left()).toBe(begun - 1);
  });

  test('the same is said of many that are ticked, and undone at once', async () => {
    await page.goto('/intake/list');
    const rows = page.locator('.register tbody tr');
    const begun = await rows.count();
    await accessible(page);
    await rows.nth(0).getByRole('checkbox').check();
    await rows.nth(1).getByRole('checkbox').check();
    await page.getByLabel('Tags').fill('two of them');
    await page.getByRole('button', { name: 'Settle those ticked' }).click();
    await expect(rows).toHaveCount(begun - 2);
    await page.getByRole('button', { name: 'Undo' }).click();
    await expect(rows).toHaveCount(begun);
  });

  test('a quick note comes from any screen, its to-dos are ticked in one list, and it is changed and linked', async () => {
    await page.goto('/references');
    await page.keyboard.press('n');
    await accessible(page);
    await page
      .locator('#quick-note textarea')
      .fill('# The log\n\n- [ ] ask for the log of <b>9 November</b>\n\n<script>window.bad = 1</script>');
    await page.getByRole('button', { name: 'Add note' }).click();
    await expect(page).toHaveURL(/\/references$/);
    await page.goto('/todos');
    await accessible(page);
    await page.getByRole('button', { name: 'Done: ask for the log of <b>9 November</b>' }).click();
    await expect(page.getByText('ask for the log')).toHaveCount(0);
    await page.getByRole('link', { name: 'Also those that are done' }).click();
    await page.getByRole('link', { name: 'The log' }).click();
    await expect(page.locator('[data-note-shown]')).toContainText('☑ ask for the log of <b>9 November</b>');
    expect(await page.evaluate(() => window.bad)).toBeUndefined();
    await accessible(page);
    // It is ticked where it stands, too.
    await page.getByRole('button', { name: 'ask for the log of <b>9 November</b>', pressed: true }).click();
    await expect(page.locator('[data-note-shown]')).toContainText('☐ ask for the log');
    await accessible(page);
    await page.getByText('Change this item').click();
    await page.getByLabel('Summary').fill('What the log of the harbour board says');
    await page.getByLabel('Tags').fill('log, to check');
    await page.getByLabel('Important').check();
    await page.locator('details.edit').getByRole('button', { name: 'Save' }).click();
    await expect(page.getByText('What the log of the harbour board says').first()).toBeVisible();
    await page.getByRole('button', { name: 'Undo' }).click();
    await expect(page.locator('.lead')).toHaveCount(0);
    await page.getByLabel('Name of a field').fill('depth');
    await page.getByLabel('Value', { exact: true }).fill('9 cm');
    await page.getByRole('button', { name: 'Add field' }).click();
    await expect(page.locator('dl.fields')).toContainText('9 cm');
    const other = await page.evaluate(() => location.pathname);
    await page.goto('/tags/stern%20door');
    await accessible(page);
    await page.getByRole('button', { name: 'PDF' }).click();
    const link = page.getByRole('link', { name: 'stern-door.pdf' }).first();
    await link.waitFor({ timeout: 60_000 });
    const [download] = await Promise.all([page.waitForEvent('download'), link.click()]);
    const bytes = readFileSync(await download.path());
    expect([bytes.subarray(0, 5).toString(), bytes.length > 5_000]).toEqual(['%PDF-', true]);
    await page.goto('/tags/stern%20door');
    await page.locator('.register a.open').first().click();
    await page.getByText('Lead to something').click();
    await page.getByLabel('Address of an item or a capture').fill(new URL(other, page.url()).href);
    await page.getByLabel('Remark').fill('see there');
    await page.getByRole('button', { name: 'Lead there' }).click();
    await expect(page.getByText('see there')).toBeVisible();
    await page.goto(other);
    await expect(page.getByText('see there')).toBeVisible();
    await page.getByRole('button', { name: 'Delete item' }).click();
    await page.getByRole('button', { name: 'Bring it back' }).click();
    await expect(page.getByRole('heading', { level: 1 })).toContainText('The log');
  });

  test('a note is shown as it will look, saved by itself, put together with what others write, and kept without network', async () => {
    await page.goto('/dossiers');
    await page.getByRole('link', { name: 'Timeline of statements' }).click();
    await page.getByRole('link', { name: 'Who said what, and when' }).click();
    const address = page.url();
    const other = await context.newPage();
    await other.goto(address);
    const [mine, theirs] = [page.getByLabel('In Markdown'), other.getByLabel('In Markdown')];
    const [said, saidThere] = [page.locator('#note-said'), other.locator('#note-said')];
    await page.keyboard.press('e');
    await expect(mine).toBeFocused();
    await accessible(page);
    await page.keyboard.press('Control+End');
    await page.keyboard.type('\n\n**See** [the sea');
    const offered = page.getByRole('option', { name: 'The seal is fitted' });
    await expect(offered).toBeVisible();
    await accessible(page);
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('Enter');
    await expect(mine).toHaveValue(/\*\*See\*\* \[The seal is fitted\]\(\/items\/[2-9a-z]{12}\)$/);
    await expect(page.getByRole('region', { name: 'As it will look' }).getByRole('link', { name: 'The seal is fitted' })).toBeVisible();
    await expect(said).toHaveText('Saved.');
    // The other window began with the note as it was.
    await other.keyboard.press('e');
    await other.keyboard.press('Control+Home');
    await other.keyboard.type('Written beside it.\n\n');
    await expect(saidThere).toHaveText('Saved, with what somebody else wrote meanwhile.');
    await expect(theirs).toHaveValue(/^Written beside it\.[^]*The seal is fitted/);
    // The same line, otherwise.
    await page.reload();
    await page.keyboard.press('e');
    await mine.fill((await mine.inputValue()).replace('Written beside it.', 'Written <i>here</i>.'));
    await expect(said).toHaveText('Saved.');
    await theirs.fill((await theirs.inputValue()).replace('Written beside it.', 'Written there.'));
    await expect(other.getByRole('button', { name: 'Keep mine' })).toBeFocused();
    await expect(other.locator('.both-changed')).toContainText('Written <i>here</i>.');
    await accessible(other);
    await other.getByRole('button', { name: 'Keep both' }).click();
    await expect(other.locator('[name=note]#note-text')).toHaveValue(/^Written there\.\nWritten <i>here<\/i>\./);
    // Without network it waits here, also when the window is closed.
    await other.keyboard.press('e');
    await context.setOffline(true);
    await theirs.focus();
    await other.keyboard.press('Control+End');
    await other.keyboard.type('\n\nTyped on the ferry.');
    await expect(saidThere).toHaveText('No network. What you typed is kept in this browser and sent later.');
    await other.keyboard.type(' And in the tunnel.');
    await other.close();
    await context.setOffline(false);
    // What the closing window could not send is sent by the next one.
    await page.goto(address);
    await expect(mine).toHaveValue(/Typed on the ferry\. And in the tunnel\.$/);
    // How it read before.
    await page.getByRole('link', { name: 'Who did what' }).click();
    await accessible(page);
    await expect(page.getByText('Ilse Varga wrote the note.').first()).toBeVisible();
    await page.locator('aside li a').last().click();
    await expect(page.locator('.as-written')).toContainText('Typed on the ferry.');
    await accessible(page);
  });

  test('a dossier is put in order by hand, has fields of its own, and another one is made after it', async () => {
    await page.goto('/dossiers');
    await page.getByRole('link', { name: 'Timeline of statements' }).click();
    const names = () => page.locator('.register .title').allTextContents();
    const before = await names();
    await page.locator('.register tbody tr').nth(0).getByRole('button', { name: /down$/ }).click();
    const after = await names();
    expect([after[1], after[0]]).toEqual([before[0], before[1]]);
    // The same with the mouse, and by Alt and an arrow.
    const rows = page.locator('.register tbody tr');
    await rows
      .nth(0)
      .locator('td')
      .nth(2)
      .dragTo(rows.nth(2), { targetPosition: { x: 20, y: 50 } });
    await expect(page.locator('.register .title')).toHaveText([after[1], after[2], after[0], ...after.slice(3)]);
    await page.getByRole('button', { name: 'Undo' }).click();
    await expect(page.locator('.register .title')).toHaveText(after);
    await rows.nth(0).focus();
    await page.keyboard.press('Alt+ArrowDown');
    await expect(page.locator('.register .title')).toHaveText(before);
    await page.getByText('Change this dossier').click();
    await accessible(page);
    await page.locator('[name="names[]"]').first().fill('told by');
    await page.locator('[name="types[]"]').first().selectOption('person');
    await page.getByRole('button', { name: 'Save fields' }).click();
    await page.getByText('Make another dossier after this one').click();
    await page.locator('details[open] [name="name"]').last().fill('Another timeline');
    await page.getByRole('button', { name: 'Make dossier' }).last().click();
    await expect(page.getByRole('heading', { level: 1 })).toContainText('Another timeline');
    await page.getByText('Change this dossier').click();
    await expect(page.locator('[name="names[]"]').first()).toHaveValue('told by');
  });

  test('a dossier is looked at as a register whose cells are changed, as a wall, and as an outline', async () => {
    await page.goto('/dossiers');
    await page.getByRole('link', { name: 'Timeline of statements' }).first().click();
    const row = page.locator('.register tbody tr').first();
    const was = await row.locator('.title').textContent();
    await row.focus();
    await row.getByRole('button', { name: /^Change “Title”/ }).click();
    await accessible(page);
    await page.keyboard.type('Changed in its cell');
    await page.keyboard.press('Escape');
    await expect(row.locator('.title')).toHaveText(was.trim());
    await row.getByRole('button', { name: /^Change “Title”/ }).press('Enter');
    await page.keyboard.type('Changed in its cell');
    await page.keyboard.press('Enter');
    await expect(row.locator('.title')).toHaveText('Changed in its cell');
    await row.getByRole('button', { name: /^Change “Tags”/ }).press('Enter');
    await page.keyboard.press('Control+A');
    await page.keyboard.type('a/b');
    await page.keyboard.press('Enter');
    await expect(row.getByRole('alert')).toContainText('a/b');
    await page.keyboard.type(', c');
    await page.keyboard.press('Escape');
    await page.getByText('Which items, and what of them').click();
    await page.getByLabel('made by').check();
    await page.getByLabel('Order').selectOption('title');
    await page.getByRole('button', { name: 'Look so' }).click();
    await expect(page.getByRole('columnheader', { name: 'Made by' })).toBeVisible();
    await page.getByText('Which items, and what of them').click();
    await page.getByLabel('Save this way as').fill('By title');
    await page.locator('.narrow').getByRole('button', { name: 'Save' }).click();
    await expect(page.locator('.ways [aria-current]').last()).toHaveText('By title');
    await accessible(page);
    await page.getByRole('link', { name: 'Wall' }).click();
    await expect(page.locator('.wall img').first()).toBeVisible();
    await accessible(page);
    await page.goto('/dossiers');
    await page.getByRole('link', { name: 'Stern door', exact: true }).click();
    await page.getByRole('link', { name: 'Outline' }).click();
    await page.getByRole('button', { name: 'Unfold Timeline of statements' }).focus();
    await page.keyboard.press('ArrowRight');
    await expect(page.locator('.outline ul').getByRole('link', { name: 'Changed in its cell' })).toBeVisible();
    await accessible(page);
    await page.keyboard.press('ArrowLeft');
    await expect(page.locator('.outline ul').getByRole('link', { name: 'Changed in its cell' })).toBeHidden();
  });

  test('what the fields say is collected, places stand on a map, and what hangs together is a picture', async () => {
    await page.goto('/dossiers');
    await page.getByRole('link', { name: 'Timeline of statements' }).first().click();
    await page.getByRole('link', { name: 'What its fields say' }).click();
    await accessible(page);
    const map = page.locator('[data-map]').first(),
      box = async () => (await map.getAttribute('viewBox')).split(' ').map(Number);
    const [, , before] = await box();
    await map.focus();
    await page.keyboard.press('+');
    expect((await box())[2]).toBeCloseTo(before * 0.8, 3);
    await page.keyboard.press('ArrowRight');
    await page.keyboard.press('0');
    expect((await box())[2]).toBeCloseTo(before, 3);
    // The coasts are there: something is drawn where there is land.
    expect(await page.evaluate(async () => (await (await fetch('/build/coast.svg')).text()).length)).toBeGreaterThan(100_000);
    await page.goto('/dossiers');
    await page.getByRole('link', { name: 'Timeline of statements' }).first().click();
    await page.getByRole('link', { name: 'Who said what, and when' }).click();
    await page.getByRole('link', { name: 'What hangs together' }).click();
    await accessible(page);
    await page.locator('.stemma a:not(.middle)').first().focus();
    await page.keyboard.press('Enter');
    await expect(page).toHaveURL(/\/(items|c)\/[2-9a-z]{12}$/);
  });

  test('a spoken note is recorded, marked while it runs, kept, and played from its marks', async () => {
    await page.goto('/references');
    await page.keyboard.press('n');
    await page.getByRole('button', { name: 'Record a spoken note' }).click();
    await accessible(page);
    await page.locator('#spoken-note').getByRole('button', { name: 'Record', exact: true }).click();
    await expect(page.locator('#spoken-note [role=status]')).toHaveText('It is recorded, and sent while it runs.');
    await page.waitForTimeout(1200);
    await page.keyboard.press('m');
    // More than one piece has come before it ends.
    await page.waitForTimeout(3500);
    await page.getByRole('button', { name: 'Stop and keep' }).click();
    await expect(page).toHaveURL(/\/items\/[2-9a-z]{12}$/);
    await expect(page.getByRole('heading', { level: 1 })).toContainText('Spoken note of');
    await expect(page.locator('.attachment code')).toHaveText(/^[0-9a-f]{64}$/);
    await accessible(page);
    const sound = page.locator('audio');
    await expect.poll(() => sound.evaluate(one => one.readyState)).toBeGreaterThan(0);
    await page.getByRole('button', { name: 'Play from 0:01' }).click();
    await expect.poll(() => sound.evaluate(one => one.currentTime)).toBeGreaterThan(1);
    await page
      .getByLabel('Files, up to 60 MB each')
      .setInputFiles({ name: 'log.txt', mimeType: 'text/plain', buffer: Buffer.from('9 Nov') });
    await page.getByRole('button', { name: 'Attach' }).click();
    await expect(page.getByRole('link', { name: 'log.txt' })).toBeVisible();
  });

  test('a gloss stands level with its passage, and says on a later capture that it was reworded', async () => {
    await page.goto('/dossiers');
    await page.getByRole('link', { name: 'Timeline of statements' }).click();
    const notices = await page
      .locator('.register tr', { hasText: 'Notice: stern door' })
      .filter({ hasText: 'capture ·' })
      .evaluateAll(rows => rows.map(row => row.querySelector('a').href));
    const reads = [];
    for (const notice of notices) {
      await page.goto(notice);
      reads.push(await page.locator('a.picture').getAttribute('href'));
    }
    // The gloss of the demo: on the captures that have its sentence it stands, on later ones it is reworded or gone.
    const became = new Set();
    for (const read of reads) {
      await page.goto(read);
      const gloss = page.locator('.gloss').first();
      await expect(gloss).toContainText('She signed the certificate herself');
      became.add((await gloss.getAttribute('class')).split(' ')[1]);
    }
    expect(became).toContain('same');
    expect(became).toContain('reworded');
    // The page is as it was, until somebody points at the gloss.
    const shown = () =>
      page
        .frameLocator('#page')
        .locator('body')
        .evaluate(() => [...(CSS.highlights.get('ypomna-gloss') ?? [])].map(String));
    await page.goto(reads.at(0));
    expect(await shown()).toEqual([]);
    await page.locator('.gloss.same, .gloss.reworded').first().hover();
    await expect.poll(async () => (await shown()).length).toBe(1);
    await page.mouse.move(5, 5);
    await expect.poll(shown).toEqual([]);
    // One's own, by marking words in the page.
    await page.goto(reads.at(-1));
    const words = page.frameLocator('#page').locator('p').first();
    await words.evaluate(one => getSelection().selectAllChildren(one));
    await page.getByRole('button', { name: 'Write a gloss' }).click();
    await page.getByLabel('Gloss', { exact: true }).fill('Said <b>first</b> here');
    await page.getByRole('button', { name: 'Save' }).click();
    const own = page.locator('.gloss', { hasText: 'Said <b>first</b> here' });
    await expect(own).toBeVisible();
    await accessible(page);
    const top = async () => [(await own.boundingBox()).y, (await words.boundingBox()).y];
    await expect.poll(async () => Math.abs((await top())[0] - (await top())[1])).toBeLessThan(60);
    await own.getByRole('link', { name: 'Open the item' }).click();
    await expect(page.locator('.belongs')).toContainText('→');
  });

  test('the chronology of a dossier is gone through by keys, and says the same as a list', async () => {
    await page.goto('/dossiers');
    await page.getByRole('link', { name: 'Stern door' }).click();
    await page.getByRole('link', { name: 'Chronology' }).click();
    await accessible(page);
    const entries = page.locator('.chronicle li');
    await expect(entries.first()).toContainText('between 2021-06-01 and 2021-06-30, about');
    const picture = page.locator('#chronology');
    const ink = () =>
      picture.evaluate(one => {
        const { data } = one.getContext('2d').getImageData(0, 0, one.width, one.height);
        let sum = 0;
        for (let i = 0; i < data.length; i += 4) sum = (sum * 31 + data[i] + data[i + 1] + data[i + 2]) % 1e9;
        return sum;
      });
    const before = await ink();
    await picture.focus();
    await page.keyboard.press('ArrowDown');
    await expect(entries.first()).toHaveClass(/here/);
    await page.keyboard.press('+');
    await expect.poll(ink).not.toBe(before);
    await page.keyboard.press('Enter');
    await expect(page.getByRole('heading', { level: 1 })).toContainText('The seal is fitted');
  });
});
