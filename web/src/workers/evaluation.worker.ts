/** The thread in which the preparation of the open job is evaluated. */
import { EvaluationService } from '../evaluation/service.ts';
import type { Request } from '../evaluation/messages.ts';

const service = new EvaluationService((answer, transfer) => self.postMessage(answer, { transfer }));
self.onmessage = ({ data }: MessageEvent<Request>) => void service.hear(data);
