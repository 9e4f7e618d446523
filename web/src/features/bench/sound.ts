import type { Schemas } from '../../api/client';

let audio: AudioContext | undefined;

const tones: Record<Schemas['Verdict'], [number, number][]> = {
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

/** Each verdict has its own tone, so that eyes stay on the loom. */
export function sound(verdict: Schemas['Verdict']) {
  audio ??= new AudioContext();
  let at = audio.currentTime;
  for (const [hertz, seconds] of tones[verdict]) {
    const voice = audio.createOscillator();
    const level = audio.createGain();
    voice.frequency.value = hertz;
    level.gain.setValueAtTime(0.15, at);
    level.gain.exponentialRampToValueAtTime(0.001, at + seconds);
    voice.connect(level).connect(audio.destination);
    voice.start(at);
    voice.stop(at + seconds);
    at += seconds + 0.04;
  }
}

/** Says where to touch. */
export function say(step: Schemas['StepView']) {
  if (!('speechSynthesis' in window)) return;
  const spell = (point: string) => point.replace(':', ', cavity ');
  speechSynthesis.cancel();
  speechSynthesis.speak(
    new SpeechSynthesisUtterance(
      `Black on ${spell(step.black)}. Red on ${step.red ? spell(step.red) : 'the shorting plug'}.`,
    ),
  );
}
