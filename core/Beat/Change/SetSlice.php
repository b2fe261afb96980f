<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\SliceFields;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Sample\Slices;
use Pestle\Core\Sample\SliceSettings;

/** Says something of one slice: its name, role, level, direction, or an end of its own. A pad that plays just this slice goes with it. */
final readonly class SetSlice implements Change
{
    private const LABELS = ['name' => 'Name', 'role' => 'Role', 'reversed' => 'Direction', 'gainDb' => 'Level', 'end' => 'End'];

    private function __construct(private string $sample, private int $slice, private int $frames, private Fields $fields)
    {
    }

    public static function from(Fields $fields): self
    {
        SliceFields::settings($fields, new SliceSettings());
        if ([] === array_intersect(array_keys(self::LABELS), $fields->keys())) {
            throw new InvalidChange('Nothing to say of the slice was named.');
        }

        return new self($fields->hash('sample'), $fields->whole('slice', 0, Slices::MAX - 1), $fields->frame('frames', 1), $fields);
    }

    public function apply(Beat $beat): Beat
    {
        $slices = $beat->slices[$this->sample] ?? new Slices([]);
        $start = $slices->markers[$this->slice] ?? throw InvalidChange::field('slice', \sprintf('must be one of %d slices, counted from 0.', \count($slices->markers)));
        $before = $slices->of($this->slice);
        $after = SliceFields::settings($this->fields, $before);
        if (null !== $after->end && ($after->end <= $start || $after->end > $this->frames)) {
            throw InvalidChange::field('end', \sprintf('must lie after the start of the slice (%d) and within the sample (%d).', $start, $this->frames));
        }
        $said = $slices->saying($this->slice, $after);
        $was = $slices->regions($this->frames)[$this->slice] ?? null;
        $kit = $beat->kit;
        foreach ($kit->pads as $pad) {
            if ($pad->main()->sample === $this->sample && [$pad->main()->start, $pad->main()->end] === $was) {
                $kit = $kit->withPad(self::following($pad, $before, $after, $said->regions($this->frames)[$this->slice][1]));
            }
        }

        return $beat->with(['slices' => array_replace($beat->slices, [$this->sample => $said]), 'kit' => $kit]);
    }

    private static function following(Pad $pad, SliceSettings $before, SliceSettings $after, int $end): Pad
    {
        $level = Pad::parameters()['levelDb'];

        $main = $pad->main()->moved($pad->main()->start, $end, static fn (int $frame): int => $frame);
        $main = $main->with(['reversed' => $after->reversed !== $before->reversed ? $after->reversed : $main->reversed]);

        return $pad->with([
            'layers' => [$main, ...\array_slice($pad->layers, 1)],
            'name' => '' !== $after->name && $after->name !== $before->name ? $after->name : $pad->name,
            'role' => $after->role !== $before->role && null !== $after->role ? $after->role : $pad->role,
            'levelDb' => max($level->least, min($level->most, $pad->levelDb + $after->gainDb - $before->gainDb)),
        ]);
    }

    public function label(Beat $beat): string
    {
        $named = array_intersect(array_keys(self::LABELS), $this->fields->keys());

        return self::LABELS[array_values($named)[0]].' of slice '.($this->slice + 1);
    }

    public function touches(): array
    {
        return ['slices/'.$this->sample, 'kit'];
    }
}
