<?php

namespace Pestle\Core\Exchange\Midi;

use Pestle\Core\Theory\Key;

/** One track of a MIDI file, event by event: running status, notes that are never let go or held by the pedal, and what is of no use here told. */
final class TrackReader
{
    /** How long a note lasts at least, in ticks: some drum tracks let go at once. */
    private const LEAST = 1;
    private const MOST_TICKS = 100_000_000;
    /** Tempi, meters and markers, of each. */
    private const MOST_MARKS = 20_000;
    private const SUSTAIN = 64;
    /** Messages that are told, by their kind. */
    private const LOST = [0xA => 'pressure', 0xB => '', 0xC => 'programs', 0xD => 'pressure', 0xE => 'pitch bend'];
    private const CONTROLLERS = [1 => 'modulation', 7 => 'volume', 10 => 'pan', 11 => 'expression'];
    /** Banks, numbers of parameters and resets say nothing by themselves. */
    private const SILENT = [0, 6, 32, 38, 98, 99, 100, 101, 120, 121, 123];

    public string $name = '';
    /** @var list<MidiNote> */
    public array $notes = [];
    /** @var list<array{int, float}> */
    public array $tempi = [];
    /** @var list<array{int, int, int}> */
    public array $meters = [];
    /** @var list<array{int, string}> */
    public array $markers = [];
    public ?Key $key = null;
    /** @var array<string, int> what has no place here, and how often it came */
    public array $lost = [];
    /** Tick of its end. */
    public int $end = 0;
    private int $at = 0;
    /** @var array<int, \SplQueue<array{int, int}>> tick and velocity of notes that sound, by channel and pitch; the first is let go first */
    private array $sounding = [];
    private int $begun = 0;
    /** @var array<int, array<int, list<array{int, int}>>> notes that were let go and sound on by the pedal, by channel and key, where it is down */
    private array $pedalled = [];

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
        foreach (array_keys($this->pedalled) as $channel) {
            $this->pedalUp($channel, $this->end);
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
            // Struck again, what the pedal held of it is over.
            foreach ($this->pedalled[$status & 0x0F][$key] ?? [] as $one) {
                $this->end($key, $one, $tick);
            }
            unset($this->pedalled[$status & 0x0F][$key]);
        } elseif ((0x8 === $kind || 0x9 === $kind) && isset($this->sounding[$key]) && !$this->sounding[$key]->isEmpty()) {
            $one = $this->sounding[$key]->dequeue();
            if (isset($this->pedalled[$status & 0x0F])) {
                $this->pedalled[$status & 0x0F][$key][] = $one;
            } else {
                $this->end($key, $one, $tick);
            }
        } elseif (0xB === $kind && self::SUSTAIN === $data) {
            $value < 64 ? $this->pedalUp($status & 0x0F, $tick) : $this->pedalled[$status & 0x0F] ??= [];
        } elseif (isset(self::LOST[$kind])) {
            $what = 0xB === $kind ? self::CONTROLLERS[$data] ?? (\in_array($data, self::SILENT, true) ? '' : 'controllers') : self::LOST[$kind];
            $this->lost[$what] = 1 + ($this->lost[$what] ?? 0);
        }
    }

    private function pedalUp(int $channel, int $tick): void
    {
        foreach ($this->pedalled[$channel] ?? [] as $key => $notes) {
            foreach ($notes as $one) {
                $this->end($key, $one, $tick);
            }
        }
        unset($this->pedalled[$channel]);
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
        if (0x06 === $kind && '' !== self::text($data) && \count($this->markers) < self::MOST_MARKS) {
            $this->markers[] = [$tick, self::text($data)];
        } elseif (0x59 === $kind && 2 === \strlen($data) && null === $this->key) {
            // Fifths above C, below nothing as one byte, and 1 for minor.
            $fifths = (\ord($data[0]) ^ 0x80) - 0x80;
            $this->key = abs($fifths) > 7 ? null : Key::of(7 * $fifths + (1 === \ord($data[1]) ? 9 : 0), 1 === \ord($data[1]));
        } elseif (0x03 === $kind && '' === $this->name) {
            $this->name = self::text($data);
        } elseif (0x51 === $kind && 3 === \strlen($data)) {
            /** @var array{1: int} $micros */
            $micros = unpack('N', "\0".$data);
            if ($micros[1] > 0 && \count($this->tempi) < self::MOST_MARKS) {
                $this->tempi[] = [$tick, 60_000_000.0 / $micros[1]];
            }
        } elseif (0x58 === $kind && \strlen($data) >= 2 && \ord($data[1]) < 8 && \ord($data[0]) > 0 && \count($this->meters) < self::MOST_MARKS) {
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
