import type { Schemas } from '../../api/client';

type Verdict = Schemas['Verdict'];

let audio: AudioContext | undefined;

const pause = 0.04;

const tones: Record<Verdict, [hertz: number, seconds: number][]> = {
  pass: [[880, 0.09]],
  fail: [
    [220, 0.16],
    [165, 0.22],
  ],
  'cant-tell': [
    [440, 0.1],
    [440, 0.1],
  ],
};

/** When each tone of a verdict starts and ends, in seconds; none runs into the next. */
export function toneSequence(verdict: Verdict, from: number): { hertz: number; from: number; to: number }[] {
  let at = from;
  return tones[verdict].map(([hertz, seconds]) => {
    const tone = { hertz, from: at, to: at + seconds };
    at = tone.to + pause;
    return tone;
  });
}

/** Each verdict has its own tone, so that eyes stay on the loom. */
export function sound(verdict: Verdict) {
  audio ??= new AudioContext();
  for (const { hertz, from, to } of toneSequence(verdict, audio.currentTime)) {
    const voice = audio.createOscillator();
    const level = audio.createGain();
    voice.frequency.value = hertz;
    level.gain.setValueAtTime(0.15, from);
    level.gain.exponentialRampToValueAtTime(0.001, to);
    voice.connect(level).connect(audio.destination);
    voice.start(from);
    voice.stop(to);
  }
}

/** Says where to touch. */
export function say(words: string) {
  if (!('speechSynthesis' in window)) return;
  speechSynthesis.cancel();
  speechSynthesis.speak(new SpeechSynthesisUtterance(words));
}
