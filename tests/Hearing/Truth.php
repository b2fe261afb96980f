<?php

namespace Pestle\Tests\Hearing;

/** What is known about a recording that was made to be measured by. */
final readonly class Truth
{
    /**
     * @param list<array{float, list<string>}> $onsets    seconds, and the kinds that sound
     * @param list<float>                      $beats     seconds
     * @param list<float>                      $downbeats seconds
     * @param list<array{float, float, int}>   $notes     start and end in seconds, MIDI number
     */
    private function __construct(public string $file, public array $onsets, public float $bpm, public float $slowest, public float $fastest, public string $key, public array $beats, public array $downbeats, public int $midi, public float $cents, public string $meter, public array $notes)
    {
    }

    public static function read(string $path): self
    {
        /** @var array{file: string, onsets?: list<array{float, list<string>}>, bpm?: float, slowest?: float, fastest?: float, key?: string, beats?: list<float>, downbeats?: list<float>, midi?: int, cents?: float, meter?: string, notes?: list<array{float, float, int}>} $data */
        $data = json_decode((string) file_get_contents($path), true, 8, \JSON_THROW_ON_ERROR);

        return new self($data['file'], $data['onsets'] ?? [], $data['bpm'] ?? 0.0, $data['slowest'] ?? $data['bpm'] ?? 0.0, $data['fastest'] ?? $data['bpm'] ?? 0.0, $data['key'] ?? '', $data['beats'] ?? [], $data['downbeats'] ?? [], $data['midi'] ?? 0, $data['cents'] ?? 0.0, $data['meter'] ?? '4/4', $data['notes'] ?? []);
    }

    /** Whether a tempo is right, to a share of it: six eighths are counted in two or in six. */
    public function isTempo(float $bpm, float $near): bool
    {
        $is = fn (float $bpm): bool => $bpm > (1.0 - $near) * $this->slowest && $bpm < (1.0 + $near) * $this->fastest;

        return $is($bpm) || ('6/8' === $this->meter && $is($bpm / 3.0));
    }

    /** @return list<string> the kinds that sound within 20 ms of a time; none when there is no hit */
    public function kindsAt(float $seconds): array
    {
        foreach ($this->onsets as [$time, $kinds]) {
            if (abs($seconds - $time) <= 0.02) {
                return $kinds;
            }
        }

        return [];
    }
}
