<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Codec\KitCodec;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\OtherSound;
use Pestle\Core\Kit\Wave;

/** Another sound under the notes of a part, which stay as they are: as it is given, or one that is named; or another list of the waves that its own is made of. */
final readonly class SetSound implements Change
{
    /** @param list<Wave>|null $waves */
    private function __construct(private string $part, private ?OtherSound $other, private ?array $waves)
    {
    }

    public static function from(Fields $fields): self
    {
        $waves = $fields->has('waves') ? KitCodec::waves($fields) : null;

        return new self($fields->id('part'), null === $waves ? OtherSound::read($fields) : null, $waves);
    }

    public function apply(Beat $beat): Beat
    {
        $part = $beat->part($this->part);
        $keys = $part->keys ?? throw new InvalidChange(\sprintf('%s is a kit: its pads hold its sounds.', $part->name));
        try {
            return $beat->withPart($part->with(['keys' => null === $this->other ? $keys->with(['waves' => $this->waves ?? []]) : $this->other->for($keys)]));
        } catch (\InvalidArgumentException $e) {
            throw new InvalidChange($e->getMessage());
        }
    }

    public function label(Beat $beat): string
    {
        $part = $beat->part($this->part)->name;

        return null === $this->other ? 'What '.$part.' is made of' : \sprintf('%s for %s', $this->other->name, $part);
    }

    public function touches(): array
    {
        return ['part/'.$this->part];
    }
}
