<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\EditFields;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Kit\Layer;
use Pestle\Core\Sample\Edit;
use Pestle\Core\Sample\Edits;
use Pestle\Core\Sample\Slices;
use Pestle\Core\Song\Clip;
use Pestle\Core\Song\Part;

/**
 * Sets all that is done to a sample in this beat. Slices, pads and clips of it stay on the sound they were on:
 * their places are followed back to the source and from there to where the new edits put them.
 */
final readonly class SetEdits implements Change
{
    private function __construct(private string $sample, private int $frames, private Edits $edits)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->hash('sample'), $fields->frame('frames', 1), EditFields::read($fields, 'edits'));
    }

    /** @param int $frames of the sample itself */
    public static function of(string $sample, int $frames, Edits $edits): self
    {
        return new self($sample, $frames, $edits);
    }

    /** What follows the tempo comes to follow a new one. */
    public static function atTempo(Beat $beat): Beat
    {
        foreach ($beat->edits as $sample => $edits) {
            if (null !== $frames = $edits->followedFrames()) {
                $beat = (new self($sample, $frames, $edits))->apply($beat);
            }
        }

        return $beat;
    }

    public function apply(Beat $beat): Beat
    {
        $before = $beat->edits[$this->sample] ?? new Edits();
        $after = $this->edits->anew($before)->at($beat->tempo->bpm);
        $length = $after->length($this->frames);
        if ($length > Edits::mostFrames($this->frames)) {
            throw new InvalidChange('This would make the sound longer than can be worked with. Keep less of it, or repeat a shorter part.');
        }
        $moved = fn (int $frame): int => max(0, min($length, $after->fromSource($before->toSource($frame, $this->frames), $this->frames)));
        $edits = $beat->edits;
        unset($edits[$this->sample]);
        if ([] !== $after->list) {
            $edits[$this->sample] = $after;
        }
        $slices = $beat->slices;
        if (isset($slices[$this->sample])) {
            $slices[$this->sample] = self::moved($slices[$this->sample], $before->length($this->frames), $length, $moved);
        }
        $sets = $beat->sliceSets;
        foreach ($sets[$this->sample] ?? [] as $name => $set) {
            $sets[$this->sample][$name] = self::moved($set, $before->length($this->frames), $length, $moved);
        }
        $kit = $beat->kit;
        $placed = fn (Layer $l): Layer => $l->sample !== $this->sample ? $l : $l->moved(...[...self::placed($moved($l->start), $moved($l->end), $length), $moved]);
        foreach ($kit->pads as $pad) {
            $kit = $kit->withPad($pad->mapLayers($placed));
        }
        $parts = array_map(static fn (Part $part): Part => null === $part->keys ? $part : $part->with(['keys' => $part->keys->mapSounds($placed)]), $beat->parts);

        $clips = array_map(fn (Clip $c): Clip => $c->sample !== $this->sample ? $c : $c->with(array_combine(['from', 'to'], self::placed($moved($c->from), $moved($c->to), $length))), $beat->clips);

        return $beat->with(['edits' => $edits, 'slices' => $slices, 'sliceSets' => $sets, 'kit' => $kit, 'parts' => $parts, 'clips' => $clips]);
    }

    /** @param callable(int): int $moved */
    private static function moved(Slices $slices, int $before, int $length, callable $moved): Slices
    {
        // The end is an edge too: turned round, it becomes the first.
        $edges = array_map($moved, [...$slices->markers, $before]);
        $markers = array_values(array_unique(array_filter($edges, static fn (int $m): bool => $m < $length)));
        sort($markers);
        $markers = \array_slice($markers, 0, Slices::MAX);
        $settings = [];
        foreach ($slices->settings as $at => $said) {
            $end = null === $said->end ? null : $moved($said->end);
            $place = null === $end ? $moved($at) : min($moved($at), $end);
            if (\in_array($place, $markers, true)) {
                $settings[$place] = $said->with(['end' => null === $end ? null : max($moved($at), $end)]);
            }
        }
        ksort($settings);

        return new Slices($markers, $slices->how, $settings);
    }

    /**
     * A pad whose part was cut away plays what lies there now.
     *
     * @return array{int, int}
     */
    private static function placed(int $start, int $end, int $length): array
    {
        [$start, $end] = [min($start, $end), max($start, $end)];
        $start = min($start, max(0, $length - 1));

        return [$start, max($start + 1, $end)];
    }

    public function label(Beat $beat): string
    {
        $before = array_map(self::comparable(...), ($beat->edits[$this->sample] ?? new Edits())->list);
        $after = array_map(self::comparable(...), $this->edits->list);
        if (\count($after) > \count($before)) {
            return $this->edits->list[\count($after) - 1]->title();
        }
        if (\count($after) < \count($before)) {
            return 'Take off an edit';
        }
        sort($before);
        sort($after);

        return $before === $after ? 'Order of edits' : 'Edit of a sample';
    }

    private static function comparable(Edit $edit): string
    {
        return (string) json_encode($edit->toArray());
    }

    public function touches(): array
    {
        return ['edits/'.$this->sample, 'slices/'.$this->sample, 'kit', 'clip'];
    }
}
