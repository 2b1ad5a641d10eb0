/* global AudioWorkletProcessor, registerProcessor */
/* Hands raw samples of a microphone on, as they come: no codec, no filter. */
class Recorder extends AudioWorkletProcessor {
  process(inputs) {
    const channel = inputs[0] && inputs[0][0];
    if (channel) this.port.postMessage(channel.slice());
    return true;
  }
}
registerProcessor("recorder", Recorder);
