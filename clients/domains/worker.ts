import { DeleteMessageCommand, ReceiveMessageCommand, SQSClient } from '@aws-sdk/client-sqs';
import type { PGlite } from '@electric-sql/pglite';
import { Cron } from 'croner';
import PQueue from 'p-queue';
import pRetry from 'p-retry';
import type { Logger } from 'pino';
import * as v from 'valibot';
import type { WebSocket } from 'ws';

const Job = v.object({
  id: v.pipe(v.string(), v.startsWith('frame-')),
  url: v.pipe(v.string(), v.url()),
});

interface Message {
  readonly MessageId?: string | undefined;
  readonly Body?: string | undefined;
  readonly ReceiptHandle?: string | undefined;
}

/** Takes jobs from a queue in the cloud: fetches a frame for each, keeps it, tells who listens, and forgets the job. */
export class Worker {
  private readonly jobs = new PQueue({ concurrency: 2 });
  private readonly cloud = new SQSClient({
    region: 'north',
    credentials: { accessKeyId: 'a', secretAccessKey: 'b' },
  });
  private readonly log: Logger;
  private readonly url: string;
  private readonly database: Pick<PGlite, 'query'>;
  private readonly listener: Pick<WebSocket, 'send'>;

  constructor(
    url: string,
    database: Pick<PGlite, 'query'>,
    listener: Pick<WebSocket, 'send'>,
    logger: Logger,
  ) {
    this.url = url;
    this.database = database;
    this.listener = listener;
    this.log = logger.child({ part: 'worker' });
  }

  async poll(): Promise<void> {
    const { Messages = [] } = await this.cloud.send(
      new ReceiveMessageCommand({ QueueUrl: this.url, MaxNumberOfMessages: 10 }),
    );
    await Promise.all(Messages.map((message) => this.jobs.add(() => this.handle(message))));
  }

  everyNight(): Cron {
    return new Cron('0 0 2 * * *', { paused: true }, () => this.poll());
  }

  private async handle({ MessageId, Body = '', ReceiptHandle }: Message): Promise<void> {
    const job = v.safeParse(Job, JSON.parse(Body));
    if (!job.success) {
      this.log.warn({ id: MessageId, issues: job.issues.length }, 'this is not a job');
      return;
    }
    const { id, url } = job.output;
    const size = await pRetry(() => this.sizeOf(url), { retries: 2, minTimeout: 1 });
    await this.database.query('insert into frames values ($1, $2)', [id, size]);
    this.listener.send(JSON.stringify({ stored: id, size }));
    await this.cloud.send(new DeleteMessageCommand({ QueueUrl: this.url, ReceiptHandle }));
  }

  private async sizeOf(url: string): Promise<number> {
    const answer = await fetch(url);
    if (!answer.ok) throw new Error(`${url} answers ${answer.status}`);
    const { size } = (await answer.json()) as { readonly size: number };
    return size;
  }
}
