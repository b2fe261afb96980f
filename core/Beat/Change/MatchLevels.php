<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Kit\Pad;

/** Sets the levels of a kit's pads so that all sound as loud as the one in the middle, by the loudness measured of their sounds. */
final readonly class MatchLevels implements Change
{
    /** @param non-empty-array<string, float> $loudness of the main sound of each pad, in dB, by its sample's hash */
    private function __construct(private string $part, private array $loudness)
    {
    }

    public static function from(Fields $fields): self
    {
        $loudness = [];
        foreach ($fields->rows('levels', 640) as $row) {
            $loudness[$row->hash('sample')] = $row->number('db', -200.0, 60.0);
        }

        return new self($fields->id('part'), $loudness ?: throw InvalidChange::field('levels', 'must name at least one sound.'));
    }

    public function apply(Beat $beat): Beat
    {
        $pads = array_filter($beat->kit->pads, fn (Pad $p): bool => $beat->kit->partOf($p->id) === $this->part && isset($this->loudness[$p->main()->sample]));
        $loud = array_map(fn (Pad $p): float => $this->loudness[$p->main()->sample], $pads);
        sort($loud);
        $middle = $loud[intdiv(\count($loud), 2)] ?? 0.0;
        $level = Pad::parameters()['levelDb'];
        $kit = $beat->kit;
        foreach ($pads as $pad) {
            $db = round($middle - $this->loudness[$pad->main()->sample] - $pad->main()->levelDb, 1);
            $kit = $kit->withPad($pad->with(['levelDb' => max($level->least, min($level->most, $db))]));
        }

        return $beat->withKit($kit);
    }

    public function label(Beat $beat): string
    {
        return 'Levels of '.$beat->part($this->part)->name.' matched';
    }

    public function touches(): array
    {
        return ['kit'];
    }
}
