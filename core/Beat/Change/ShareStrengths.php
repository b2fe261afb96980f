<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Kit\Answer;
use Pestle\Core\Kit\Layer;
use Pestle\Core\Kit\Pad;

/** Lets a pad's sounds share the strengths evenly, sorted by how loud they are where that is said: the quietest to the softest strikes. */
final readonly class ShareStrengths implements Change
{
    /** @param array<string, float> $levelsDb loudness of samples, by hash */
    private function __construct(private string $pad, private array $levelsDb)
    {
    }

    public static function from(Fields $fields): self
    {
        $levels = [];
        foreach ($fields->has('levels') ? $fields->rows('levels', Pad::MAX_LAYERS) : [] as $row) {
            $levels[$row->hash('sample')] = $row->number('db', -200.0, 60.0);
        }

        return new self($fields->id('pad'), $levels);
    }

    public function apply(Beat $beat): Beat
    {
        $pad = $beat->pad($this->pad);
        $layers = $pad->layers;
        usort($layers, fn (Layer $a, Layer $b): int => $this->level($a) <=> $this->level($b));

        return $beat->withKit($beat->kit->withPad($pad->with(['layers' => $layers, 'answer' => Answer::Strength])->split()));
    }

    private function level(Layer $layer): float
    {
        return ($this->levelsDb[$layer->sample] ?? 0.0) + $layer->levelDb;
    }

    public function label(Beat $beat): string
    {
        return 'Strengths of '.$beat->pad($this->pad)->name;
    }

    public function touches(): array
    {
        return ['kit/'.$this->pad];
    }
}
