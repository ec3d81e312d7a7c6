import mysql, { type Connection } from 'mysql2/promise';

/** How often the database is asked whether it is there, and how long it may take, in milliseconds. */
const EVERY_MS = 1000;
const PATIENCE_MS = 2500;

/**
 * Whether the database answers. One that is dead says so by itself; one that hangs (a stopped process, a full disk, a dead disk) says nothing, and whoever
 * waits for it would wait for ever. It is asked on a connection of its own.
 */
export class Pulse {
  readonly #url: string;
  readonly #listeners: (() => void)[] = [];
  #connection: Connection | null = null;
  #clock: NodeJS.Timeout | null = null;
  #stopped = false;
  #away = false;

  constructor(url: string) {
    this.#url = url.replace(/^mariadb:/, 'mysql:');
    this.#clock = setTimeout(this.#turn, EVERY_MS);
  }

  get away(): boolean {
    return this.#away;
  }

  /** Hears at every beat that stays out. */
  onMissed(listener: () => void): void {
    this.#listeners.push(listener);
  }

  stop(): void {
    this.#stopped = true;
    if (this.#clock) clearTimeout(this.#clock);
    this.#connection?.destroy();
  }

  readonly #turn = async (): Promise<void> => {
    let patience: NodeJS.Timeout | undefined;
    try {
      await Promise.race([
        this.#ask(),
        new Promise((_, reject) => {
          patience = setTimeout(() => reject(new Error('the database does not answer')), PATIENCE_MS);
        }),
      ]);
      this.#away = false;
    } catch {
      this.#connection?.destroy();
      this.#connection = null;
      this.#away = !this.#stopped;
      if (this.#away) for (const hears of this.#listeners) hears();
    } finally {
      clearTimeout(patience);
    }
    if (!this.#stopped) this.#clock = setTimeout(this.#turn, EVERY_MS);
  };

  async #ask(): Promise<void> {
    if (!this.#connection) {
      const connection = await mysql.createConnection({ uri: this.#url, connectTimeout: PATIENCE_MS });
      // What becomes of it is seen where it is asked.
      connection.on('error', () => {});
      if (this.#stopped) return connection.destroy();
      this.#connection = connection;
    }
    await this.#connection.ping();
  }
}
