// Runs beside the sound: hands every block of the microphone over with the frame it begins at, and does nothing to it.

class Take extends AudioWorkletProcessor {
    process([input]) {
        if (input.length > 0) {
            this.port.postMessage([input[0].slice(), (input[1] ?? input[0]).slice(), currentFrame]);
        }

        return true;
    }
}

registerProcessor('pestle-take', Take);
