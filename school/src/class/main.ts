import { LESSON, startClass } from './class.ts';

const [address = 'http://127.0.0.1:4270'] = process.argv.slice(2);
const working = await startClass(address, Date.now() % 1000);
console.log(`${working.length} students of 7K are at work on “${LESSON}”.`);
for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.on(signal, () => {
    for (const student of working) student.stop();
    process.exit(0);
  });
