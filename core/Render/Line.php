<?php

namespace Pestle\Core\Render;

use Pestle\Core\Mix\EqualizerSettings;
use Pestle\Core\Mix\FaderPlace;
use Pestle\Core\Mix\FixedInserts;
use Pestle\Core\Mix\GainCurve;
use Pestle\Core\Mix\InsertRuns;
use Pestle\Core\Mix\Inserts;
use Pestle\Core\Mix\InsertSettings;
use Pestle\Core\Mix\Master;
use Pestle\Core\Mix\MovingEqualizer;
use Pestle\Core\Mix\MovingInserts;
use Pestle\Core\Mix\Node;
use Pestle\Core\Mix\Timing;

/** A line of the mixer as it is over a segment: level before its inserts in beats of old, inserts, fader, sends. */
final readonly class Line
{
    /** All that what comes out before the fader depends on, but for what goes in. */
    public string $signature;

    /**
     * @param array<string, Fader> $sends      by return: the way from before the fader
     * @param list<string>         $keys       lines that steer it
     * @param bool                 $goesByTime whether what comes out depends on when
     */
    private function __construct(public Inserts $inserts, public Fader $before, public Fader $fader, public array $sends, public array $keys, string $settings, public bool $goesByTime)
    {
        $this->signature = $before->signature.' '.$settings;
    }

    public static function fixed(Node|Master $line, Timing $timing): self
    {
        [$first, $last] = FaderPlace::Before === $line->fader ? [$line->gainDb, 0.0] : [0.0, $line->gainDb];
        $pan = $line instanceof Node ? $line->pan : 0.0;
        $sends = [];
        foreach ($line instanceof Node ? $line->sends : [] as $to => $send) {
            $sends[$to] = $send->beforeFader ? Fader::at($send->gainDb) : Fader::at($send->gainDb + $last, $pan);
        }

        return new self(new FixedInserts($line->inserts, $timing), Fader::at($first), Fader::at($last, $pan), $sends, $line->keys(), self::settings($line->inserts, $timing), self::goesByTime($line->inserts));
    }

    /**
     * A line of which something moves within the segment.
     *
     * @param array<string, non-empty-list<float>> $moving by path within the line: a value at every step, and one for the end
     */
    public static function moving(Node|Master $line, array $moving, int $frames, Timing $timing): self
    {
        $values = static fn (string $path, float $else): array => $moving[$path] ?? Slice::still($else, $frames);
        $levels = $values('gainDb', $line->gainDb);
        $pans = $values('pan', $line instanceof Node ? $line->pan : 0.0);
        $none = Slice::still(0.0, $frames);
        [$first, $last] = FaderPlace::Before === $line->fader ? [$levels, $none] : [$none, $levels];
        $sends = [];
        foreach ($line instanceof Node ? $line->sends : [] as $to => $send) {
            $own = $values('sends/'.$to.'/gainDb', $send->gainDb);
            $sends[$to] = $send->beforeFader ? self::fader($own, $none) : self::fader(array_map(static fn (float $a, float $b): float => $a + $b, $own, $last), $pans);
        }
        $inside = array_filter($moving, static fn (string $path): bool => str_starts_with($path, 'inserts/'), \ARRAY_FILTER_USE_KEY);
        [$inserts, $settings] = [] === $inside ? [new FixedInserts($line->inserts, $timing), ''] : self::movingInserts($line, $inside, $timing);

        return new self($inserts, self::fader($first, $none), self::fader($last, $pans), $sends, $line->keys(), self::settings($line->inserts, $timing).$settings, self::goesByTime($line->inserts));
    }

    /** Line with values of curves that stand still over a segment. */
    public static function set(Node|Master $line, string $path, float $value): Node|Master
    {
        $field = basename($path);
        if ($field === $path) {
            return $line->with([$field => $value]);
        }
        $inner = $line->inner()[\dirname($path)] ?? null;

        return null === $inner ? $line : $line->withInner(\dirname($path), $inner->with([$field => $value]));
    }

    /**
     * @param non-empty-array<string, non-empty-list<float>> $moving
     *
     * @return array{Inserts, string}
     */
    private static function movingInserts(Node|Master $line, array $moving, Timing $timing): array
    {
        $runs = $still = [];
        foreach ($line->inserts as $i => $insert) {
            $own = array_filter($moving, static fn (string $path): bool => str_starts_with($path, 'inserts/'.$insert->id().'/'), \ARRAY_FILTER_USE_KEY);
            if ([] === $own) {
                $still[] = $insert;
                continue;
            }
            if ([] !== $still) {
                $runs[] = new FixedInserts($still, $timing);
                $still = [];
            }
            $runs[] = self::movingInsert($insert, $own, $timing);
        }
        if ([] !== $still) {
            $runs[] = new FixedInserts($still, $timing);
        }

        return [new InsertRuns($runs), hash('xxh128', serialize($moving))];
    }

    /** @param non-empty-array<string, non-empty-list<float>> $own values at every step of what moves of it, by path within the line */
    private static function movingInsert(InsertSettings $insert, array $own, Timing $timing): Inserts
    {
        $count = max(1, \count($own[array_key_first($own)]) - 1);
        $each = $insert->kind()->stepsAtOnce();
        $inside = [];
        foreach ($own as $path => $values) {
            $field = basename($path);
            $inside[substr(\dirname($path), \strlen('inserts/'.$insert->id().'/')) ?: ''][$field] = $values;
        }
        $step = static function (int $k) use ($insert, $inside): InsertSettings {
            foreach ($inside as $path => $fields) {
                $set = array_map(static fn (array $values): float => $values[$k], $fields);
                $holder = '' === $path ? null : $insert->inner()[$path] ?? null;
                $insert = null === $holder ? $insert->with($set) : $insert->withInner((string) $path, $holder->with($set));
            }

            return $insert;
        };

        $fixed = static fn (int $k): FixedInserts => new FixedInserts([$step($each * $k)], $timing);

        return $insert instanceof EqualizerSettings
            ? new MovingEqualizer($insert, $inside, $fixed, $count, $timing)
            : new MovingInserts($fixed, (int) ceil($count / $each), $each * GainCurve::STEP);
    }

    /**
     * @param non-empty-list<float> $gainsDb
     * @param non-empty-list<float> $pans
     */
    private static function fader(array $gainsDb, array $pans): Fader
    {
        return Slice::areSame($gainsDb) && Slice::areSame($pans) ? Fader::at($gainsDb[0], $pans[0]) : Fader::moving($gainsDb, $pans);
    }

    /** @param array<InsertSettings> $inserts */
    public static function goesByTime(array $inserts): bool
    {
        return [] !== array_filter($inserts, static fn (InsertSettings $i): bool => $i->acts() && $i->goesByTime());
    }

    /** @param list<InsertSettings> $inserts */
    private static function settings(array $inserts, Timing $timing): string
    {
        $acting = array_filter($inserts, static fn (InsertSettings $i): bool => $i->acts());

        return ($timing->rules->areNewest() ? '' : $timing->rules->value.' ').serialize($acting).(self::goesByTime($acting) ? ' '.$timing->tempo->bpm.' '.$timing->loopFrames.$timing->moving?->print() : '');
    }
}
