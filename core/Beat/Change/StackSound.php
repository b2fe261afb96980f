<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\OtherSound;
use Pestle\Core\Kit\Keys;
use Pestle\Core\Song\Part;

/** One more sound under the notes of a part, on those that are there. Of another part its sound; else as for set-sound. */
final readonly class StackSound implements Change
{
    private function __construct(private string $part, private ?OtherSound $other, private ?string $of)
    {
    }

    public static function from(Fields $fields): self
    {
        $of = $fields->has('of') ? $fields->id('of') : null;

        return new self($fields->id('part'), null === $of ? OtherSound::read($fields) : null, $of);
    }

    public function apply(Beat $beat): Beat
    {
        $part = $beat->part($this->part);
        $keys = $part->keys ?? throw new InvalidChange(\sprintf('%s is a kit: its pads take several sounds each.', $part->name));
        // The first is called as it was until now.
        $keys = '' === $keys->name ? $keys->with(['name' => $part->name]) : $keys;
        try {
            $stacked = null === $this->of ? $keys->withAnother($this->other?->over($keys) ?? $keys) : self::withPart($beat->part($this->of), $keys);

            return $beat->withPart($part->with(['keys' => $stacked]));
        } catch (\InvalidArgumentException $e) {
            throw new InvalidChange($e->getMessage());
        }
    }

    private static function withPart(Part $other, Keys $stacked): Keys
    {
        $keys = $other->keys ?? throw new InvalidChange(\sprintf('%s is a kit: only instruments are stacked.', $other->name));
        foreach ($keys->all() as $one) {
            $stacked = $stacked->withAnother($one->with(['name' => '' === $one->name ? $other->name : $one->name]));
        }

        return $stacked;
    }

    public function label(Beat $beat): string
    {
        return \sprintf('%s on top of %s', $this->other->name ?? $beat->part($this->of ?? '')->name, $beat->part($this->part)->name);
    }

    public function touches(): array
    {
        return ['part/'.$this->part];
    }
}
