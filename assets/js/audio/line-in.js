// An input of this machine: opened as it comes, and handed over block by block with the frame each begins at.

import { audio } from './context.js';

/**
 * @param {string} device the browser's name for it; '' for the usual one
 * @param heard           told of each block: [left, right, frame of the audio clock]
 */
export async function openLine(device, heard) {
    const context = audio();
    const constraints = { echoCancellation: false, noiseSuppression: false, autoGainControl: false, ...(device ? { deviceId: { exact: device } } : {}) };
    const stream = await navigator.mediaDevices.getUserMedia({ audio: constraints });
    await context.audioWorklet.addModule('/build/js/worklets/take.js');
    const source = context.createMediaStreamSource(stream);
    const gain = context.createGain();
    const monitor = context.createGain();
    const node = new AudioWorkletNode(context, 'pestle-take', { numberOfOutputs: 1, channelCount: 2 });
    source.connect(gain).connect(node).connect(context.destination);
    gain.connect(monitor).connect(context.destination);
    node.port.onmessage = ({ data }) => heard(data);

    return {
        gain,
        monitor,
        close() {
            stream.getTracks().forEach((track) => track.stop());
            [gain, monitor, node].forEach((one) => one.disconnect());
        },
    };
}
