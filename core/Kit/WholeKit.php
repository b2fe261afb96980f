<?php

namespace Pestle\Core\Kit;

use Pestle\Core\Theory\Parameter;
use Pestle\Core\Theory\Settable;
use Pestle\Core\Theory\Settings;

/** What is added to all pads of a kit: level, place and tuning. */
final readonly class WholeKit implements Settable
{
    use Settings;

    public function __construct(public float $levelDb = 0.0, public float $pan = 0.0, public int $tuneCents = 0)
    {
    }

    public static function parameters(): array
    {
        return [
            'levelDb' => Parameter::number('Level of the kit', 'dB', -24.0, 12.0, 0.0, 0.5)->moving(),
            'pan' => Parameter::number('Pan of the kit', '', -1.0, 1.0, 0.0, 0.05, 2)->moving(),
            'tuneCents' => Parameter::whole('Tune of the kit', 'cents', -2400, 2400, 0)->moving(),
        ];
    }

    public function with(array $changed): static
    {
        /** @var array{levelDb: float, pan: float, tuneCents: int} $all */
        $all = [...get_object_vars($this), ...$changed];

        return new self(...$all);
    }

    /** A pad of the kit as it sounds. */
    public function over(Pad $pad): Pad
    {
        return 0.0 === $this->levelDb && 0.0 === $this->pan && 0 === $this->tuneCents ? $pad : $pad->with([
            'levelDb' => $pad->levelDb + $this->levelDb,
            'pan' => max(-1.0, min(1.0, $pad->pan + $this->pan)),
            'tuneCents' => $pad->tuneCents + $this->tuneCents,
        ]);
    }
}
