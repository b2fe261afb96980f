<?php

namespace Pestle\App\Beside;

/**
 * A clock to run in time with: it sends 24 pulses a quarter, start, continue, stop and song position, at a tempo that may
 * waver and drift; and tells how well it is led by the pulses of a page. Source: MIDI 1.0 Detailed Specification, System Real Time.
 */
final class Clock implements Device
{
    public const PULSES = 24;
    private const PULSE = "\xF8";
    private const START = "\xFA";
    private const CONTINUE = "\xFB";
    private const STOP = "\xFC";
    private const POSITION = "\xF2";
    /** A waver comes round in so many milliseconds. */
    private const WAVER_MS = 3_700.0;
    private const SLOWEST = 20.0;
    private const FASTEST = 300.0;

    private bool $runs = false;
    private float $due = 0.0;
    private float $began = 0.0;
    /** @var list<string> what goes out with the next pulse */
    private array $before = [];
    private readonly Led $led;

    /**
     * @param float $bpm    tempo to begin with
     * @param float $to     tempo it drifts to
     * @param float $over   seconds it takes, from its start on
     * @param float $waver  by how many percent it is faster and slower by turns
     * @param float $jitter by how many milliseconds a pulse may come late
     */
    public function __construct(private float $bpm = 120.0, private float $to = 120.0, private float $over = 0.0, private float $waver = 0.0, private readonly float $jitter = 0.0)
    {
        $this->led = new Led();
    }

    public function kind(): string
    {
        return 'clock';
    }

    public function receive(string $midi, float $at): void
    {
        $this->led->receive($midi, $at);
    }

    public function typed(string $command): string
    {
        [$word, $first, $second, $third] = [...explode(' ', $command), '', '', ''];

        return match (true) {
            'start' === $word => $this->send(self::START, true, 'It starts.'),
            'continue' === $word => $this->send(self::CONTINUE, true, 'It goes on.'),
            'stop' === $word => $this->send(self::STOP, false, 'It stops.'),
            'place' === $word && ctype_digit($first) => $this->send(self::POSITION.\chr((int) $first & 127).\chr((int) $first >> 7 & 127), $this->runs, \sprintf('It is put to sixteenth %d.', (int) $first)),
            'tempo' === $word && is_numeric($first) => $this->drift(self::tempo($first), self::tempo($first), 0.0),
            'drift' === $word && is_numeric($first) && is_numeric($second) && is_numeric($third) => $this->drift(self::tempo($first), self::tempo($second), (float) $third),
            'waver' === $word && is_numeric($first) => $this->waver((float) $first),
            'led' === $word => $this->led->told(),
            default => throw new \InvalidArgumentException('It knows: start, stop, continue, place SIXTEENTHS, tempo BPM, drift FROM TO SECONDS, waver PERCENT, led, quit.'),
        };
    }

    public function turn(float $now, Outlet $out): float
    {
        foreach ($this->before as $bytes) {
            $out->midi($bytes, $now);
        }
        if ([] !== $this->before && $this->runs) {
            // The pulse after a start is its downbeat: a moment later, as the standard wants it.
            $this->due = max($this->due, $now + 1.0);
        }
        $this->before = [];
        $this->due = 0.0 === $this->due ? $now : $this->due;
        while ($this->due <= $now) {
            // What was missed for long is not made up for.
            $this->due = max($this->due, $now - 200.0);
            $out->midi(self::PULSE, $this->due + $this->jitter * mt_rand() / mt_getrandmax());
            $this->due += 60_000.0 / self::PULSES / $this->bpmAt($this->due);
        }
        foreach ($this->led->news($now) as $line) {
            $out->say($line);
        }

        return $this->due;
    }

    /** Quarters a minute at a moment. */
    private function bpmAt(float $moment): float
    {
        $gone = max(0.0, $moment - $this->began);
        $share = 0.0 === $this->over || !$this->runs ? ($this->runs ? 1.0 : 0.0) : min(1.0, $gone / 1000.0 / $this->over);

        return ($this->bpm + ($this->to - $this->bpm) * $share) * (1.0 + $this->waver / 100.0 * sin(2.0 * \M_PI * $moment / self::WAVER_MS));
    }

    private function send(string $bytes, bool $runs, string $told): string
    {
        $this->before[] = $bytes;
        $this->began = $runs && !$this->runs ? StandIn::now() : $this->began;
        $this->runs = $runs;

        return $told;
    }

    private function drift(float $from, float $to, float $over): string
    {
        [$this->bpm, $this->to, $this->over, $this->began] = [$from, $to, $over, StandIn::now()];

        return $from === $to ? \sprintf('It goes at %.1f BPM.', $from) : \sprintf('It goes from %.1f to %.1f BPM in %.0f s.', $from, $to, $over);
    }

    private function waver(float $percent): string
    {
        $this->waver = max(0.0, min(10.0, $percent));

        return \sprintf('It wavers by %.1f %%.', $this->waver);
    }

    private static function tempo(string $bpm): float
    {
        return max(self::SLOWEST, min(self::FASTEST, (float) $bpm));
    }
}
