<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\EditFields;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Kit\Layer;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Sample\Edits;
use Pestle\Core\Sample\Slices;
use Pestle\Core\Song\Clip;
use Pestle\Core\Song\Part;

/**
 * One recording takes the place of another: every pad plays the same part of the new one, as much of it from its
 * start on; slices lie at the same parts. Patterns stay as they are. The edits of the new one say how it is made to fit.
 */
final readonly class ExchangeSample implements Change
{
    private function __construct(
        private string $sample,
        private int $frames,
        private string $name,
        private string $with,
        private int $withFrames,
        private string $withName,
        private int $withRate,
        private Edits $edits,
    ) {
    }

    public static function from(Fields $fields): self
    {
        return new self(
            $fields->hash('sample'),
            $fields->frame('frames', 1),
            $fields->text('name'),
            $fields->hash('with'),
            $fields->frame('withFrames', 1),
            $fields->text('withName'),
            $fields->has('withRate') ? $fields->whole('withRate', 1000, 768_000) : 0,
            EditFields::read($fields, 'edits'),
        );
    }

    public function apply(Beat $beat): Beat
    {
        if ($this->sample === $this->with) {
            throw InvalidChange::field('with', 'must be another sample.');
        }
        foreach ($beat->kit->pads as $pad) {
            if ($pad->holds($this->with)) {
                throw new InvalidChange(\sprintf('%s plays in this beat already (pad %s): lift a copy of it first, so that the two don\'t share their edits.', $this->withName, $pad->name));
            }
        }
        $beat = $beat->with(['edits' => array_filter(array_replace($beat->edits, [$this->with => $this->edits->anew($beat->edits[$this->with] ?? new Edits())->at($beat->tempo->bpm)]), static fn (Edits $e): bool => [] !== $e->list)]);
        $length = ($beat->edits[$this->with] ?? new Edits())->length($this->withFrames);
        $place = fn (int $frame): int => (int) round($frame / $this->frames * $length);
        $renamed = fn (string $name): string => mb_substr(str_replace($this->name, $this->withName, $name), 0, 80);
        $kit = $beat->kit;
        foreach ($kit->pads as $pad) {
            $changed = $pad->mapLayers(fn (Layer $l): Layer => $l->sample !== $this->sample ? $l
                : $l->moved($place($l->start), max($place($l->start) + 1, $place($l->end)), $place)->with(['sample' => $this->with, 'name' => $renamed($l->name)]));
            $kit = $kit->withPad($pad->main()->sample === $this->sample ? $changed->with(['name' => $renamed($pad->name)]) : $changed);
        }
        $moved = fn (Layer $l): Layer => $l->sample !== $this->sample ? $l : $l->moved($place($l->start), max($place($l->start) + 1, $place($l->end)), $place)->with(['sample' => $this->with]);
        $parts = array_map(static fn (Part $part): Part => null === $part->keys ? $part : $part->with(['keys' => $part->keys->mapSounds($moved)]), $beat->parts);
        $slices = $beat->slices;
        if (isset($slices[$this->sample])) {
            $slices[$this->with] = self::moved($slices[$this->sample], $place);
        }

        $clips = array_map(fn (Clip $c): Clip => $c->sample !== $this->sample ? $c : $c->with(['sample' => $this->with, 'rate' => $this->withRate ?: $c->rate, 'name' => $renamed($c->name), 'from' => $place($c->from), 'to' => max($place($c->from) + 1, $place($c->to))]), $beat->clips);

        return $beat->with(['kit' => $kit, 'parts' => $parts, 'slices' => $slices, 'clips' => $clips]);
    }

    /** @param callable(int): int $place */
    private static function moved(Slices $slices, callable $place): Slices
    {
        $settings = [];
        foreach ($slices->settings as $at => $said) {
            $settings[$place($at)] = $said->with(['end' => null === $said->end ? null : max($place($at) + 1, $place($said->end))]);
        }

        return new Slices(array_values(array_unique(array_map($place, $slices->markers))), $slices->how, $settings);
    }

    public function label(Beat $beat): string
    {
        return \sprintf('%s in place of %s', $this->withName, $this->name);
    }

    public function touches(): array
    {
        return ['kit', 'edits/'.$this->with, 'slices/'.$this->with, 'slices/'.$this->sample, 'tempo'];
    }
}
