/** A failure whose message is for the person at the keyboard: what happened and what to do. */
export class Stop extends Error {}

/** Runs a command's main part; a Stop ends with its sentence, anything else with its trace. */
export async function main(work) {
  try {
    await work();
  } catch (error) {
    console.error(error instanceof Stop ? `\n${error.message}\n` : error);
    process.exit(1);
  }
}
