/** Asks again and again until the answer is neither null nor false. */
export async function until<T>(ask: () => Promise<T | null | false>, what: string, seconds = 360, pauseMs = 200): Promise<T> {
  const end = Date.now() + seconds * 1000;
  for (;;) {
    const answer = await ask();
    if (answer !== null && answer !== false) return answer;
    if (Date.now() > end) throw new Error(`Waited ${seconds} s in vain for: ${what}.`);
    await new Promise((pause) => setTimeout(pause, pauseMs));
  }
}
