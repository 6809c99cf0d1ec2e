// The debug server asked by the protocol's own test client: node debug.js
const { DebugClient } = require('@vscode/debugadapter-testsupport');
const { spawn } = require('node:child_process');
const path = require('node:path');

const home = process.env.CANTINA_HOME;
const project = process.env.CANTINA_PROJECT;
const file = path.join(project, 'routines', 'move_wine.sql');
const trigger = path.join(project, 'routines', 'vessel_journal.sql');
let failed = 0;
const expect = (what, is) => {
  console.log((is ? 'ok     ' : 'FAILED ') + what);
  failed += is ? 0 : 1;
};

/** The server at a port, which it says on its error stream. */
function served() {
  const child = spawn(path.join(home, 'cantina'), ['serve', 'debug', '--port', '0'], { cwd: project });
  return new Promise((resolve, reject) => {
    let said = '';
    child.stderr.on('data', data => {
      said += data;
      const port = /at port (\d+)/.exec(said);
      if (port) resolve({ child, port: Number(port[1]) });
    });
    child.on('error', reject);
    setTimeout(() => reject(new Error('no port: ' + said)), 60000).unref();
  });
}

/** The demo's program, which waits for a debugger at a port that it says on its error stream. */
function called() {
  const child = spawn('java', ['-cp', path.join(home, 'cli/target/lib/*'),
    path.join(home, 'demo/program/src/main/java/winery/CellarDesk.java'),
    `jdbc:cantina:${project}?wait=yes&debug=0`], { cwd: project });
  let out = '';
  child.stdout.on('data', data => { out += data; });
  const ended = new Promise(resolve => child.on('close', () => resolve(out)));
  return new Promise((resolve, reject) => {
    let said = '';
    child.stderr.on('data', data => {
      said += data;
      const port = /at port (\d+)/.exec(said);
      if (port) resolve({ ended, port: Number(port[1]) });
    });
    child.on('error', reject);
    setTimeout(() => reject(new Error('no port: ' + said)), 60000).unref();
  });
}

async function attached() {
  const { ended, port } = await called();
  const client = new DebugClient('node', '', 'cantina');
  client.defaultTimeout = 20000;
  await client.start(port);
  await client.initializeRequest();
  const initialized = client.waitForEvent('initialized');
  await client.attachRequest({ port });
  await initialized;
  await client.setBreakpointsRequest({ source: { path: trigger }, breakpoints: [{ line: 7 }] });
  const stopped = client.waitForEvent('stopped');
  await client.configurationDoneRequest();
  await stopped;
  const stack = (await client.stackTraceRequest({ threadId: 1 })).body.stackFrames;
  expect('in a program that calls it stops in the trigger', stack[0].name === 'vessel_journal' && stack[1].name === 'move_wine');
  await client.disconnectRequest({});
  const out = await ended;
  expect('let go, the program goes on', out.includes('moved           80.0 litres') && out.includes('45000 B1 has no room'));
  await client.stop();
}

(async () => {
  const { child, port } = await served();
  const ended = new Promise(resolve => child.on('close', resolve));
  const client = new DebugClient('node', '', 'cantina');
  client.defaultTimeout = 20000;
  await client.start(port);
  const can = (await client.initializeRequest()).body;
  expect('it steps back', can.supportsStepBack);
  const initialized = client.waitForEvent('initialized');
  const launched = client.launchRequest({ project, routine: 'move_wine', arguments: { source: 'T1', target: 'C7', litres: 120 } });
  await initialized;
  const set = (await client.setBreakpointsRequest({ source: { path: file }, breakpoints: [{ line: 26 }] })).body.breakpoints;
  await client.setBreakpointsRequest({ source: { path: trigger }, breakpoints: [{ line: 7 }] });
  expect('a breakpoint stands where it was set', set[0].verified && set[0].line === 26);
  const first = client.waitForEvent('stopped');
  await client.configurationDoneRequest();
  await launched;
  await first;
  let stack = (await client.stackTraceRequest({ threadId: 1 })).body.stackFrames;
  expect('it stops in the trigger that the UPDATE fires', stack[0].name === 'vessel_journal' && stack[1].name === 'move_wine');
  const second = client.waitForEvent('stopped');
  await client.continueRequest({ threadId: 1 });
  await second;
  stack = (await client.stackTraceRequest({ threadId: 1 })).body.stackFrames;
  expect('then behind it', stack[0].line === 26);
  const scopes = (await client.scopesRequest({ frameId: stack[0].id })).body.scopes;
  const rows = scopes.find(s => s.name === 'Rows changed so far');
  const tables = (await client.variablesRequest({ variablesReference: rows.variablesReference })).body.variables;
  expect('the rows that it changed are there', tables.some(t => t.name === 'vessel' && t.value === '1 changed'));
  const sum = (await client.evaluateRequest({ expression: 'litres * 2', frameId: stack[0].id, context: 'watch' })).body;
  expect('an expression has a value and a type', sum.result === '240.0' && sum.type.startsWith('DECIMAL'));
  const back = client.waitForEvent('stopped');
  await client.customRequest('stepBack', { threadId: 1 });
  await back;
  stack = (await client.stackTraceRequest({ threadId: 1 })).body.stackFrames;
  expect('a step back', stack[0].line === 24);
  const third = client.waitForEvent('terminated');
  await client.setBreakpointsRequest({ source: { path: file }, breakpoints: [] });
  await client.setBreakpointsRequest({ source: { path: trigger }, breakpoints: [] });
  await client.continueRequest({ threadId: 1 });
  await third;
  await client.disconnectRequest({});
  await client.stop();
  const code = await Promise.race([ended, new Promise(r => setTimeout(() => r('it still runs'), 15000))]);
  expect('nothing is left running', code === 0);
  await attached();
  process.exit(failed ? 1 : 0);
})().catch(e => {
  console.log('FAILED ' + (e.stack || e));
  process.exit(1);
});
