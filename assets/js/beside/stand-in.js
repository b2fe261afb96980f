// A device that is a program beside Pestle: reached by a web socket, it speaks the bytes that a real one speaks.

/** So often its clock is compared with ours: the shortest way there and back counts. */
const ASKS = 8;
const ASK_EVERY_MS = 10_000;
const LESS_SURE_MS = 0.2;

const MIDI = 'm'.charCodeAt(0);

export class StandIn {
    name;
    kind;
    #socket;
    /** What is to be added to its moments to have ours, in ms; and how long the way took by which that is known. */
    #ahead = null;
    #way = Infinity;
    #asking = null;

    /**
     * @param place name of its socket
     * @param on    {ready, midi: (bytes, moment), sound: (frame, moment, samples), gone}
     */
    constructor(place, on) {
        this.place = place;
        this.on = on;
        this.#socket = new WebSocket(`ws://${location.host}/beside/${place}`);
        this.#socket.binaryType = 'arraybuffer';
        this.#socket.onmessage = ({ data }) => (typeof data === 'string' ? this.#told(JSON.parse(data)) : this.#came(data));
        this.#socket.onclose = () => {
            clearInterval(this.#asking);
            on.gone(this);
        };
    }

    get canSound() {
        return this.kind === 'module';
    }

    /** Bytes that it gets for a moment, as performance.now() counts. */
    send(bytes, moment = performance.now()) {
        if (this.#socket.readyState !== WebSocket.OPEN || this.#ahead === null) {
            return;
        }
        const message = new DataView(new ArrayBuffer(9 + bytes.length));
        message.setUint8(0, MIDI);
        message.setFloat64(1, moment - this.#ahead, true);
        bytes.forEach((byte, i) => message.setUint8(9 + i, byte));
        this.#socket.send(message.buffer);
    }

    /** Whether its sound is wanted. */
    listen(listens) {
        this.#socket.send(JSON.stringify({ listens }));
    }

    close() {
        this.#socket.close();
    }

    #told(what) {
        if (what.name !== undefined) {
            Object.assign(this, { name: what.name, kind: what.kind });
            this.#compare();
            this.#asking = setInterval(() => this.#compare(), ASK_EVERY_MS);
        } else if (what.asked !== undefined) {
            const now = performance.now();
            const first = this.#ahead === null;
            if (now - what.asked <= this.#way) {
                this.#way = now - what.asked;
                this.#ahead = (now + what.asked) / 2 - what.now;
            }
            if (first) {
                this.on.ready(this);
            }
        }
    }

    #compare() {
        // What was known grows a little less sure, so that clocks that drift are found again; a busy page makes no answer count that took long.
        this.#way += LESS_SURE_MS;
        for (let i = 0; i < ASKS; i += 1) {
            setTimeout(() => this.#socket.readyState === WebSocket.OPEN && this.#socket.send(JSON.stringify({ asked: performance.now() })), 15 * i);
        }
    }

    #came(buffer) {
        const view = new DataView(buffer);
        if (this.#ahead === null) {
            return;
        }
        const moment = view.getFloat64(1, true) + this.#ahead;
        if (view.getUint8(0) === MIDI) {
            this.on.midi([...new Uint8Array(buffer, 9)], moment, this);
        } else {
            this.on.sound(view.getUint32(9, true), moment, new Float32Array(buffer.slice(13)), this);
        }
    }
}
