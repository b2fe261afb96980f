<?php

namespace Pestle\Core\Mix;

/** What could be done about a mix, given what was measured of it: levels before the master, loudness, peaks, and what mono would lose. */
final readonly class Advice
{
    /** Where the loudest line should peak before the master, in dBFS, and how far off is near enough. */
    private const STAGE_DB = -10.0;
    private const NEAR_DB = 2.0;
    /** A lossy copy swings a little higher than what it was made of. */
    private const LOSSY_DB = -1.0;
    private const SILENT_LUFS = -69.0;
    private const NEAR_LU = 0.5;
    /** More than so much taken off is heard. */
    private const LIMITED_DB = -6.0;
    private const TOGETHER = 0.2;

    /**
     * @param float                $lufs        integrated loudness
     * @param float                $limiterDb   most that the limiter takes off, negative
     * @param float                $correlation of left and right
     * @param array<string, float> $peaksDb     of lines before the master, by id
     */
    public function __construct(private Mixer $mixer, private float $lufs, private float $truePeakDb, private float $limiterDb, private float $correlation, private array $peaksDb)
    {
    }

    /**
     * @param float $target LUFS that are aimed for
     *
     * @return non-empty-list<array{words: string, does: string|null, change: array<string, mixed>|null}> in the order they are best done
     */
    public function towards(float $target): array
    {
        if ($this->lufs < self::SILENT_LUFS) {
            return [self::line('Nothing sounds here.')];
        }

        return array_values(array_filter([$this->stage(), $this->loudness($target), $this->peaks(), $this->sides()])) ?: [self::line('Nothing to do: level, peaks and sides are as they should be.')];
    }

    /** @return array{words: string, does: string|null, change: array<string, mixed>|null}|null */
    private function stage(): ?array
    {
        $channels = array_filter($this->peaksDb, fn (string $id): bool => NodeKind::Channel === ($this->mixer->nodes[$id] ?? null)?->kind, \ARRAY_FILTER_USE_KEY);
        arsort($channels);
        $loudest = array_key_first($channels);
        $by = null === $loudest ? 0.0 : round(self::STAGE_DB - $channels[$loudest], 1);

        return null === $loudest || abs($by) <= self::NEAR_DB ? null : self::line(
            \sprintf('Before the master %s peaks highest, at %s dBFS; near %s leaves everything behind it room.', $this->mixer->nodes[$loudest]->name, self::db($channels[$loudest]), self::db(self::STAGE_DB, 0)),
            \sprintf('All channels %s dB, master %s dB', self::signed($by), self::signed(-$by)),
            ['type' => 'stage-gains', 'byDb' => $by],
        );
    }

    /** @return array{words: string, does: string|null, change: array<string, mixed>|null}|null */
    private function loudness(float $target): ?array
    {
        $louder = round($target - $this->lufs, 1);
        $limited = $louder > 0 && $this->limiterDb - $louder < self::LIMITED_DB;

        return abs($louder) < self::NEAR_LU ? null : self::line(
            \sprintf('It is %s LU %s than aimed for%s.', self::db(abs($louder)), $louder > 0 ? 'softer' : 'louder', $limited ? '; lifted that far the limiter would have much to do: make the loudest sounds softer first' : ''),
            \sprintf('Master %s dB', self::signed($louder)),
            ['type' => 'set', 'mixer/master/gainDb' => round($this->mixer->master->gainDb + $louder, 1)],
        );
    }

    /** @return array{words: string, does: string|null, change: array<string, mixed>|null}|null */
    private function peaks(): ?array
    {
        return $this->truePeakDb <= self::LOSSY_DB + 0.05 ? null : self::line(
            \sprintf('True peaks reach %s dB: a lossy copy may clip.', self::db($this->truePeakDb)),
            \sprintf('Ceiling at %s dB', self::db(self::LOSSY_DB, 0)),
            ['type' => 'set', 'mixer/master/ceilingDb' => self::LOSSY_DB],
        );
    }

    /** @return array{words: string, does: string|null, change: array<string, mixed>|null}|null */
    private function sides(): ?array
    {
        return $this->correlation >= self::TOGETHER ? null : self::line(\sprintf('Left and right have little in common (%s): played in mono much of it is lost. Stereo inserts can keep the lows in the middle.', self::db($this->correlation, 2)));
    }

    /**
     * @param array<string, mixed>|null $change
     *
     * @return array{words: string, does: string|null, change: array<string, mixed>|null}
     */
    private static function line(string $words, ?string $does = null, ?array $change = null): array
    {
        return ['words' => $words, 'does' => $does, 'change' => $change];
    }

    private static function db(float $value, int $places = 1): string
    {
        return str_replace('-', '−', number_format($value, $places, '.', ''));
    }

    private static function signed(float $value): string
    {
        return ($value < 0 ? '−' : '+').number_format(abs($value), 1, '.', '');
    }
}
