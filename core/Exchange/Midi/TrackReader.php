<?php

namespace Pestle\Core\Exchange\Midi;

/** One track of a MIDI file, event by event: running status, notes that are never let go, and what is of no use here passed over. */
final class TrackReader
{
    /** How long a note lasts at least, in ticks: some drum tracks let go at once. */
    private const LEAST = 1;
    private const MOST_TICKS = 100_000_000;

    public string $name = '';
    /** @var list<MidiNote> */
    public array $notes = [];
    /** @var list<array{int, float}> */
    public array $tempi = [];
    /** @var list<array{int, int, int}> */
    public array $meters = [];
    /** Tick of its end. */
    public int $end = 0;
    private int $at = 0;
    /** @var array<int, \SplQueue<array{int, int}>> tick and velocity of notes that sound, by channel and pitch; the first is let go first */
    private array $sounding = [];
    private int $begun = 0;

    private function __construct(private readonly string $bytes, private readonly float $scale, private readonly string $file, private readonly int $most)
    {
    }

    /**
     * @param float $scale ticks of 960 to the quarter for each of the file's
     * @param int   $most  notes that it may hold
     *
     * @throws UnreadableMidi
     */
    public static function read(string $bytes, float $scale, string $file, int $most): self
    {
        $reader = new self($bytes, $scale, $file, $most);
        $reader->events();

        return $reader;
    }

    private function events(): void
    {
        $time = $status = 0;
        while ($this->at < \strlen($this->bytes)) {
            $time += $this->number();
            $tick = (int) round($time * $this->scale);
            if ($tick > self::MOST_TICKS) {
                throw new UnreadableMidi(\sprintf('%s lasts for days. Cut it, or export it again.', $this->file));
            }
            $this->end = max($this->end, $tick);
            $byte = $this->byte();
            if ($byte < 0x80) {
                // The same status as before is not written again.
                if ($status < 0x80 || $status >= 0xF0) {
                    throw $this->damaged();
                }
                --$this->at;
            } else {
                $status = $byte;
            }
            if (0xFF === $status) {
                $this->meta($tick);
            } elseif (0xF0 === $status || 0xF7 === $status) {
                $this->take($this->number());
            } elseif ($status >= 0xF0) {
                throw $this->damaged();
            } else {
                $this->message($status, $tick);
            }
        }
        foreach ($this->sounding as $key => $begun) {
            foreach ($begun as $one) {
                $this->end($key, $one, $this->end);
            }
        }
    }

    private function message(int $status, int $tick): void
    {
        $kind = $status >> 4;
        $data = $this->byte() & 0x7F;
        $value = 0xC === $kind || 0xD === $kind ? 0 : $this->byte() & 0x7F;
        $key = ($status & 0x0F) << 7 | $data;
        if (0x9 === $kind && $value > 0) {
            if (++$this->begun > $this->most) {
                throw MidiFile::tooManyNotes($this->file);
            }
            ($this->sounding[$key] ??= self::queue())->enqueue([$tick, $value]);
        } elseif ((0x8 === $kind || 0x9 === $kind) && isset($this->sounding[$key]) && !$this->sounding[$key]->isEmpty()) {
            $this->end($key, $this->sounding[$key]->dequeue(), $tick);
        }
    }

    /** @return \SplQueue<array{int, int}> */
    private static function queue(): \SplQueue
    {
        /** @var \SplQueue<array{int, int}> $queue */
        $queue = new \SplQueue();

        return $queue;
    }

    /** @param array{int, int} $begun */
    private function end(int $key, array $begun, int $tick): void
    {
        $this->notes[] = new MidiNote($begun[0], $key >> 7, $key & 0x7F, $begun[1], max(self::LEAST, $tick - $begun[0]));
    }

    private function meta(int $tick): void
    {
        $kind = $this->byte();
        $data = $this->take($this->number());
        if (0x03 === $kind && '' === $this->name) {
            $this->name = self::text($data);
        } elseif (0x51 === $kind && 3 === \strlen($data)) {
            /** @var array{1: int} $micros */
            $micros = unpack('N', "\0".$data);
            if ($micros[1] > 0) {
                $this->tempi[] = [$tick, 60_000_000.0 / $micros[1]];
            }
        } elseif (0x58 === $kind && \strlen($data) >= 2 && \ord($data[1]) < 8 && \ord($data[0]) > 0) {
            $this->meters[] = [$tick, \ord($data[0]), 1 << \ord($data[1])];
        }
    }

    private static function text(string $data): string
    {
        $text = mb_check_encoding($data, 'UTF-8') ? $data : mb_convert_encoding($data, 'UTF-8', 'ISO-8859-1');

        return trim(mb_substr((string) preg_replace('/[\x00-\x1f\x7f]+/', ' ', $text), 0, 80));
    }

    /** A number of up to four bytes, seven bits each. */
    private function number(): int
    {
        $number = 0;
        for ($i = 0; $i < 4; ++$i) {
            $byte = $this->byte();
            $number = ($number << 7) | ($byte & 0x7F);
            if ($byte < 0x80) {
                return $number;
            }
        }

        throw $this->damaged();
    }

    private function byte(): int
    {
        return $this->at < \strlen($this->bytes) ? \ord($this->bytes[$this->at++]) : throw $this->damaged();
    }

    private function take(int $count): string
    {
        if ($this->at + $count > \strlen($this->bytes)) {
            throw $this->damaged();
        }
        $this->at += $count;

        return substr($this->bytes, $this->at - $count, $count);
    }

    private function damaged(): UnreadableMidi
    {
        return new UnreadableMidi(\sprintf('%s is damaged: an event in one of its tracks makes no sense. Export it again.', $this->file));
    }
}
