// The extension in a real workbench, driven in a browser without a screen: node workbench.js PORT FOLDER
// FOLDER takes the pictures.
const { chromium } = require('playwright-core');
const { spawn } = require('node:child_process');
const fs = require('node:fs');
const path = require('node:path');

const [port, pictures] = process.argv.slice(2);
const project = process.env.CANTINA_PROJECT;
let failed = 0;
const home = process.env.CANTINA_HOME;
const programPort = 20000 + Math.floor(Math.random() * 20000);
const expect = (what, is) => {
  console.log((is ? 'ok     ' : 'FAILED ') + what);
  failed += is ? 0 : 1;
};

/** The demo's program, which waits at its first call for a debugger. */
function called() {
  const child = spawn('java', ['-cp', path.join(home, 'cli/target/lib/*'),
    path.join(home, 'demo/program/src/main/java/winery/CellarDesk.java'),
    `jdbc:cantina:${project}?wait=yes&debug=${programPort}`], { cwd: project });
  let out = '';
  child.stdout.on('data', data => { out += data; });
  const ended = new Promise(resolve => child.on('close', () => resolve(out)));
  const waits = new Promise((resolve, reject) => {
    child.stderr.on('data', data => { if (/at port/.test(data)) resolve(); });
    setTimeout(() => reject(new Error('the program waits nowhere')), 60000).unref();
  });
  return { ended, waits };
}

(async () => {
  fs.mkdirSync(path.join(project, '.vscode'), { recursive: true });
  fs.writeFileSync(path.join(project, '.vscode', 'launch.json'), JSON.stringify({
    version: '0.2.0',
    configurations: [{ type: 'cantina', request: 'attach', name: 'the program', port: programPort }],
  }));
  const browser = await chromium.launch({
    executablePath: process.env.CHROMIUM || '/usr/bin/chromium',
    headless: true,
    args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking',
      '--disable-component-update', '--disable-sync'],
  });
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  const rest = ms => page.waitForTimeout(ms);
  const key = async (k, ms = 400) => { await page.keyboard.press(k); await rest(ms); };
  const type = async (t, ms = 300) => { await page.keyboard.type(t); await rest(ms); };
  const picture = name => page.screenshot({ path: path.join(pictures, name + '.png') });
  const open = async file => { await key('Control+p', 600); await type(file, 1200); await key('Enter', 2500); };
  const go = async line => { await key('Control+g'); await type(String(line)); await key('Enter'); };
  const lens = title => page.locator('.codelens-decoration a', { hasText: title }).first();
  const seen = async (selector, ms = 20000) =>
    page.waitForSelector(selector, { timeout: ms }).then(() => true, () => false);

  await page.goto(`http://127.0.0.1:${port}/?folder=${project}`, { timeout: 60000 });
  await page.waitForSelector('.monaco-workbench', { timeout: 60000 });
  await rest(4000);
  await open('move_wine.sql');
  await go(1);
  expect('lenses stand above a routine', await lens('Debug').waitFor({ timeout: 30000 }).then(() => true, () => false));
  await go(26);
  await key('F9', 800);
  await go(1);
  await rest(1000);
  await lens('Debug').click();
  await rest(1500);
  for (const value of ['T1', 'C7', '120']) {
    await key('Control+a', 100);
    await type(value);
    await key('Enter', 800);
  }
  const stop = '.debug-top-stack-frame-column, .debug-top-stack-frame-line';
  expect('arguments are asked for, and it stops at the breakpoint', await seen(stop));
  await rest(2000);
  const names = await page.locator('.debug-view-content').allTextContents();
  expect('the variables are shown', names.join(' ').includes("'T1'"));
  for (let i = 0; i < 3; i++) await key('F10', 1200);
  await rest(2500);
  await picture('editor');
  await page.locator('.pane-header', { hasText: 'Changed rows' }).first().click();
  await rest(2000);
  expect('the rows that it has changed are shown, before and after', await page.getByText('500.0 → 380.0').first().isVisible());
  const back = page.locator('.debug-toolbar .codicon-debug-step-back');
  expect('it can step back', (await back.count()) > 0);
  await back.first().click();
  await rest(2000);
  await key('Shift+F5', 2000);
  await go(1);
  await rest(800);
  await lens('Profile').click();
  await rest(1200);
  for (let i = 0; i < 3; i++) await key('Enter', 800);
  const painted = () => page.evaluate(() => [...document.querySelectorAll('.view-line span')]
    .some(e => /run .* ms/.test(getComputedStyle(e, '::after').content)));
  let figures = false;
  for (let i = 0; i < 20 && !figures; i++) {
    await rest(500);
    figures = await painted();
  }
  expect('a profile stands behind the lines', figures);
  const desk = called();
  await desk.waits;
  await open('routines/vessel_journal.sql');
  await go(7);
  await key('F9', 800);
  await key('F5', 1000);
  expect('a program that calls is attached to, and stops in its trigger', await seen(stop));
  await rest(2500);
  const where = await page.locator('.debug-call-stack').allTextContents();
  expect('the trigger and its caller are on the stack', /vessel_journal[\s\S]*move_wine/.test(where.join(' ')));
  await picture('editor-attached');
  await key('F9', 500);
  await key('Shift+F5', 1500);
  expect('let go, the program goes on', (await desk.ended).includes('moved           80.0 litres'));
  await open('cases/move_wine.yaml');
  await go(4);
  await lens('Run').waitFor({ timeout: 20000 }).catch(() => {});
  await lens('Run').click();
  expect('a case that fails is red in the view of tests', await seen('.codicon-testing-failed-icon', 30000));
  await rest(1500);
  await picture('editor-test');
  await open('routines/move_wine.sql');
  await go(22);
  await key('End');
  await key('Enter');
  await type('SET tuched = 1;', 2500);
  expect('a problem is shown as it is typed', await seen('.squiggly-error', 10000));
  await picture('editor-problem');
  await key('Home', 200);
  for (let i = 0; i < 6; i++) await key('ArrowRight', 60);
  await key('Control+.', 2500);
  await picture('editor-fix');
  await key('Enter', 3000);
  const line = await page.locator('.view-line', { hasText: /SET.touched.=.1;/ }).count();
  expect('its hint is one key', line > 0 && !(await page.$('.squiggly-error')));
  await key('Control+z', 300);
  await key('Control+Shift+k', 300);
  await key('Control+s', 2000);
  await go(5);
  await key('Home', 200);
  for (let i = 0; i < 8; i++) await key('ArrowRight', 60);
  await key('F2', 2500);
  await key('Control+a', 200);
  await type('volume', 500);
  await picture('editor-rename');
  await key('Enter', 5000);
  await picture('editor-renamed');
  await page.locator('.tab', { hasText: 'move_wine.yaml' }).first().click();
  await rest(2000);
  await go(10);
  await rest(1000);
  const renamed = (await page.locator('.view-line').allTextContents()).join('\n').replaceAll('\u00a0', ' ');
  expect('a parameter is renamed in its cases too', /volume: 120/.test(renamed) && !/litres: 120 \}/.test(renamed.split('\n')[9] || ''));
  await browser.close();
  process.exit(failed ? 1 : 0);
})().catch(e => {
  console.log('FAILED ' + e);
  process.exit(1);
});
