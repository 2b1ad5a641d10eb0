/** Recording a pluck in the browser: raw samples as a 16-bit WAV, without any processing. */

const SECONDS = 5;

export async function recordPluck(progress: (share: number) => void): Promise<File> {
  const stream = await navigator.mediaDevices.getUserMedia({
    audio: { echoCancellation: false, autoGainControl: false, noiseSuppression: false },
  });
  const context = new AudioContext();
  try {
    // Samples as they come: a codec or a filter would take the low tones away.
    await context.audioWorklet.addModule("/recorder.js");
    const recorder = new AudioWorkletNode(context, "recorder");
    const parts: Float32Array[] = [];
    recorder.port.onmessage = (e: MessageEvent<Float32Array>) => parts.push(e.data);
    context.createMediaStreamSource(stream).connect(recorder);
    await context.resume();
    for (let i = 1; i <= SECONDS * 10; i++) {
      await new Promise((done) => setTimeout(done, 100));
      progress(i / (SECONDS * 10));
    }
    recorder.disconnect();
    const samples = new Float32Array(parts.reduce((n, part) => n + part.length, 0));
    let at = 0;
    for (const part of parts) {
      samples.set(part, at);
      at += part.length;
    }
    return new File([wavOf(samples, context.sampleRate)], "pluck.wav", { type: "audio/wav" });
  } finally {
    stream.getTracks().forEach((t) => t.stop());
    await context.close();
  }
}

/** Samples within ±1 as a WAV file of 16 bit, mono. */
export function wavOf(samples: Float32Array, rate: number): ArrayBuffer {
  const bytes = new DataView(new ArrayBuffer(44 + samples.length * 2));
  const word = (at: number, text: string) => {
    [...text].forEach((c, i) => bytes.setUint8(at + i, c.charCodeAt(0)));
  };
  word(0, "RIFF");
  bytes.setUint32(4, 36 + samples.length * 2, true);
  word(8, "WAVEfmt ");
  bytes.setUint32(16, 16, true);
  bytes.setUint16(20, 1, true);
  bytes.setUint16(22, 1, true);
  bytes.setUint32(24, rate, true);
  bytes.setUint32(28, rate * 2, true);
  bytes.setUint16(32, 2, true);
  bytes.setUint16(34, 16, true);
  word(36, "data");
  bytes.setUint32(40, samples.length * 2, true);
  samples.forEach((s, i) => bytes.setInt16(44 + i * 2, Math.max(-1, Math.min(1, s)) * 32767, true));
  return bytes.buffer;
}
