<?php

namespace Pestle\Core\Exchange;

use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;

/** How loud a delivery is to be; mix and stems get the same gain, so that they still add up, and nothing is limited for it. */
final readonly class DeliveryLevel
{
    /** No louder than this is anything made for its loudness, in dBTP: what is played back needs so much room. */
    public const CEILING = -1.0;
    /** Lowest and highest targets, in dBTP and LUFS. */
    private const BOUNDS = ['peak' => [-24.0, 0.0], 'loudness' => [-40.0, -5.0]];

    /** @param float $target in dBTP or LUFS */
    public function __construct(public LevelKind $kind = LevelKind::AsMixed, public float $target = 0.0)
    {
    }

    /** @throws InvalidChange */
    public static function from(Fields $fields): self
    {
        $kind = $fields->has('level') ? $fields->choice('level', LevelKind::class) : LevelKind::AsMixed;

        return match ($kind) {
            LevelKind::Peak => new self($kind, $fields->number('peak', ...self::BOUNDS['peak'])),
            LevelKind::Loudness => new self($kind, $fields->number('lufs', ...self::BOUNDS['loudness'])),
            default => new self(),
        };
    }

    /**
     * @param float $lufs       integrated loudness as it was mixed
     * @param float $truePeakDb its highest true peak
     *
     * @return float in dB; 0 for silence
     */
    public function gainDb(float $lufs, float $truePeakDb): float
    {
        if (!is_finite($lufs) || !is_finite($truePeakDb)) {
            return 0.0;
        }

        return match ($this->kind) {
            LevelKind::AsMixed => 0.0,
            LevelKind::Peak => $this->target - $truePeakDb,
            LevelKind::Loudness => min($this->target - $lufs, max(self::CEILING, $truePeakDb) - $truePeakDb),
        };
    }

    /** What was done, in words; empty where nothing was. */
    public function sentence(float $gainDb, float $lufs, float $truePeakDb): string
    {
        $moved = \sprintf('%s by %.1f dB', $gainDb < 0.0 ? 'Lowered' : 'Raised', abs($gainDb));

        return match (true) {
            LevelKind::AsMixed === $this->kind => '',
            !is_finite($lufs) => 'It is silent, so that its level stays.',
            LevelKind::Peak === $this->kind => \sprintf('%s to %.1f dBTP.', $moved, $this->target),
            $lufs + $gainDb < $this->target - 0.05 => \sprintf('%s: at %.1f LUFS it reaches %.1f dBTP, so it is not made as loud as %.1f LUFS. Bring its peaks down in Mix for more.', $moved, $lufs + $gainDb, $truePeakDb + $gainDb, $this->target),
            default => \sprintf('%s to %.1f LUFS.', $moved, $this->target),
        };
    }
}
