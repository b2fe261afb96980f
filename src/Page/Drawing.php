<?php

namespace Pestle\App\Page;

use Pestle\App\Entity\Sample;
use Pestle\App\Gather\SampleStore;
use Pestle\App\Trust\RequestGuard;
use Pestle\Core\Mix\CompressorSettings;
use Pestle\Core\Mix\EqBand;
use Pestle\Core\Mix\EqualizerSettings;
use Pestle\Core\Sample\Edits;
use Pestle\Core\Signal\Biquad;
use Pestle\Core\Theory\Key;
use Twig\Extension\AbstractExtension;
use Twig\TwigFilter;
use Twig\TwigFunction;

/** Paths and numbers for the pages. */
final class Drawing extends AbstractExtension
{
    /** Outlines are kept in steps of 1/128: of what is softer, they tell nothing. */
    private const QUIETEST_DRAWN = 0.03;

    /** @var array<string, Sample|null> */
    private array $samples = [];

    public function __construct(private readonly SampleStore $store, private readonly RequestGuard $guard)
    {
    }

    public function getFunctions(): array
    {
        return [
            new TwigFunction('wave_path', $this->wavePath(...)),
            new TwigFunction('heard_note', fn (string $hash): ?float => ($this->samples[$hash] ??= $this->store->find($hash))?->pitch()),
            new TwigFunction('eq_path', self::eqPath(...)),
            new TwigFunction('transfer_path', self::transferPath(...)),
            new TwigFunction('change_token', $this->guard->token(...)),
        ];
    }

    public function getFilters(): array
    {
        return [
            new TwigFilter('signed', static fn (float|int $value, int $places = 1): string => (0.0 === round((float) $value, $places) ? '' : ($value > 0 ? '+' : '−')).number_format(abs($value), $places)),
            new TwigFilter('sure', static fn (float $sure): string => $sure >= 1.0 ? 'set by hand' : ($sure > 0.85 ? 'sure' : ($sure > 0.55 ? 'likely' : 'a guess'))),
            new TwigFilter('note', static function (float $midi): string {
                $note = (int) round($midi);
                $cents = (int) round(100 * ($midi - $note));

                return Key::TONICS[$note % 12].(intdiv($note, 12) - 1).(0 === $cents ? '' : \sprintf(' %+d cents', $cents));
            }),
            new TwigFilter('clock', static fn (float $seconds): string => $seconds < 60 ? \sprintf('%.2f s', $seconds) : \sprintf('%d:%04.1f', (int) ($seconds / 60), fmod($seconds, 60))),
        ];
    }

    /** A closed path of a stretch of a sample, $width by $height, to its own peak; with edits its places are those of the edited sound. */
    public function wavePath(string $hash, int $width, int $height, int $from = 0, ?int $to = null, ?Edits $edits = null): string
    {
        $this->samples[$hash] ??= $this->store->find($hash);
        $frames = $this->samples[$hash]->frames ?? 0;
        if (null !== $edits) {
            // Drawn from the source: where each end came from, the right way round.
            $ends = [$edits->toSource($from, $frames), $edits->toSource($to ?? $edits->length($frames), $frames)];
            [$from, $to] = [max(0, min($ends)), min($frames, max($ends))];
        }
        $outline = $this->samples[$hash]?->wave()->outline($width, $from, $to) ?? [];
        $upper = $lower = '';
        $step = $width / max(1, \count($outline));
        $half = $height / 2;
        $peak = max([self::QUIETEST_DRAWN, ...array_map(static fn (array $ends): float => max(-$ends[0], $ends[1]), $outline)]);
        foreach ($outline as $i => [$low, $high]) {
            $x = round(($i + 0.5) * $step, 1);
            $upper .= \sprintf('%s%s %.1f', '' === $upper ? 'M' : 'L', $x, $half - max(0.03, $high / $peak) * $half);
            $lower = \sprintf('L%s %.1f', $x, $half - min(-0.03, $low / $peak) * $half).$lower;
        }

        return '' === $upper ? '' : $upper.$lower.'Z';
    }

    /** The response of an equalizer from 20 Hz to 20 kHz, ±20 dB. */
    public static function eqPath(EqualizerSettings $equalizer, int $width, int $height): string
    {
        $active = $equalizer->on ? array_filter($equalizer->bands, static fn (EqBand $band): bool => $band->isActive()) : [];
        $filters = array_merge(...array_map(static fn (EqBand $band): array => $band->sections(44100.0), array_values($active)));
        $path = '';
        for ($x = 0; $x <= $width; $x += 2) {
            $hz = 20.0 * 1000.0 ** ($x / $width);
            $db = array_sum(array_map(static fn (Biquad $filter): float => $filter->responseDb($hz, 44100.0), $filters));
            $path .= \sprintf('%s%d %.1f', '' === $path ? 'M' : 'L', $x, $height / 2 - max(-24.0, min(24.0, $db)) / 20.0 * $height / 2);
        }

        return $path;
    }

    /** How loud comes out what goes into a compressor: -60 to 0 dB both ways. */
    public static function transferPath(CompressorSettings $compressor, int $width, int $height): string
    {
        $path = '';
        foreach ([-60.0, ...range(-58.0, -1.0, 0.5), $compressor->thresholdDb, 0.0] as $in) {
            $over = $in - $compressor->thresholdDb;
            $half = 0.5 * $compressor->kneeDb;
            $pulled = $over >= $half ? $over : ($over > -$half ? ($over + $half) ** 2 / (4.0 * $half) : 0.0);
            $out = $compressor->on ? $in - $pulled * (1.0 - 1.0 / $compressor->ratio) + $compressor->makeupDb : $in;
            $path .= \sprintf('%s%.1f %.1f', '' === $path ? 'M' : 'L', $width * ($in + 60.0) / 60.0, max(1.0, -$out / 60.0 * $height));
        }

        return $path;
    }
}
