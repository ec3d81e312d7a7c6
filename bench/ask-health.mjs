import { Agent, request } from 'node:http';

/**
 * `node ask-health.mjs ADDRESS TIMES`: asks a server whether it is well, again and again, and prints how long each answer took in milliseconds. A
 * process of its own: whoever loads the server at the same time would otherwise be timed too.
 */
const [address, times] = process.argv.slice(2);
const agent = new Agent({ keepAlive: true });
const ask = () =>
  new Promise((resolve, reject) => {
    request(`${address}/api/health`, { agent }, (reply) => reply.resume().on('end', resolve))
      .on('error', reject)
      .end();
  });
const took = [];
for (let i = 0; i < Number(times); i++) {
  const from = performance.now();
  await ask();
  took.push(performance.now() - from);
  await new Promise((resolve) => setTimeout(resolve, 20));
}
agent.destroy();
console.log(JSON.stringify(took));
