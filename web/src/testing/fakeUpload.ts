/** Stands in for an upload by the tus protocol; the latest one made is `FakeUpload.latest`. For tests. */
import type { UploadOptions } from 'tus-js-client';

export class FakeUpload {
  static latest: FakeUpload;
  static previous: object[] = [];
  started = false;
  resumed: object | undefined;
  aborted: boolean | undefined;
  constructor(
    readonly file: File,
    readonly options: UploadOptions,
  ) {
    FakeUpload.latest = this;
  }
  findPreviousUploads = async () => FakeUpload.previous;
  resumeFromPreviousUpload(previous: object): void {
    this.resumed = previous;
  }
  start(): void {
    this.started = true;
  }
  async abort(forGood: boolean): Promise<void> {
    this.aborted = forGood;
  }
}
