/** The sound of each scan result: people who scan look at the device, not at the screen. */
import type { Tone } from '#core/devices/index';

/** Two notes up: taken; two down: returned; one: noted or counted; low and long: wrong. */
const notes: Record<Tone, [hertz: number, ms: number][]> = {
  taken: [
    [660, 70],
    [880, 90],
  ],
  returned: [
    [880, 70],
    [660, 90],
  ],
  counted: [[780, 60]],
  noted: [[520, 60]],
  wrong: [[150, 380]],
};
let audio: AudioContext | null = null;
export function play(tone: Tone): void {
  audio ??= new AudioContext();
  let at = audio.currentTime;
  for (const [hertz, ms] of notes[tone]) {
    const note = audio.createOscillator();
    const volume = audio.createGain();
    note.type = tone === 'wrong' ? 'square' : 'sine';
    note.frequency.value = hertz;
    volume.gain.value = 0.08;
    note.connect(volume).connect(audio.destination);
    note.start(at);
    note.stop(at + ms / 1000);
    at += ms / 1000;
  }
}
