/** Errors that concern the bench as a whole, until somebody has read them. They stand in a line of their own and cover nothing. */
import { defineStore } from 'pinia';
import { ref } from 'vue';

export interface Notice {
  id: number;
  summary: string;
  detail: string;
  /** How often it happened. */
  times: number;
}

/** Older ones give way. */
const MOST = 50;

export const useNotices = defineStore('notices', () => {
  const list = ref<Notice[]>([]);
  let number = 0;

  /** The latest stands first; what happens again is counted. */
  function say({ summary, detail }: Pick<Notice, 'summary' | 'detail'>): void {
    const same = list.value.find((other) => other.summary === summary && other.detail === detail);
    const rest = list.value.filter((other) => other !== same);
    list.value = [{ id: ++number, summary, detail, times: (same?.times ?? 0) + 1 }, ...rest].slice(0, MOST);
  }

  function read(id: number): void {
    list.value = list.value.filter((notice) => notice.id !== id);
  }

  function clear(): void {
    list.value = [];
  }

  return { list, say, read, clear };
});
