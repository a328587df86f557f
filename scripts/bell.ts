/** Writes public/bell.wav: two short tones of Brintel's own, so that a clock rings without the network. */
import { writeFileSync } from "node:fs";

const rate = 22_050;
const tones = [
  { at: 0, pitch: 880 },
  { at: 0.22, pitch: 1175 },
];
const samples = new Int16Array(Math.round(0.5 * rate));
for (const { at, pitch } of tones) {
  const begin = Math.round(at * rate);
  for (let i = 0; i < 0.25 * rate && begin + i < samples.length; i++) {
    const seconds = i / rate;
    // A few milliseconds to swell, so that it does not click; then it dies away.
    const loudness = 0.3 * Math.min(1, seconds / 0.004) * Math.exp(-seconds / 0.05);
    samples[begin + i] =
      (samples[begin + i] ?? 0) + 32_767 * loudness * Math.sin(2 * Math.PI * pitch * seconds);
  }
}
const head = Buffer.alloc(44);
head.write("RIFF", 0);
head.writeUInt32LE(36 + samples.byteLength, 4);
head.write("WAVEfmt ", 8);
head.writeUInt32LE(16, 16);
head.writeUInt16LE(1, 20);
head.writeUInt16LE(1, 22);
head.writeUInt32LE(rate, 24);
head.writeUInt32LE(rate * 2, 28);
head.writeUInt16LE(2, 32);
head.writeUInt16LE(16, 34);
head.write("data", 36);
head.writeUInt32LE(samples.byteLength, 40);
writeFileSync("public/bell.wav", Buffer.concat([head, Buffer.from(samples.buffer)]));
