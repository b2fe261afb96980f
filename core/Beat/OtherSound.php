<?php

namespace Pestle\Core\Beat;

use Pestle\Core\Beat\Codec\KitCodec;
use Pestle\Core\Kit\Keys;
use Pestle\Core\Synth\Nearby;
use Pestle\Core\Synth\Recipes;
use Pestle\Core\Synth\Shelf;

/** A sound that an instrument could have in place of its own: one of the shelf, one nearby, one on the way to another, one that is made of its own by a recipe, or any. */
final readonly class OtherSound
{
    /**
     * @param \Closure(Keys): Keys $sound   given its own
     * @param bool                 $renames whether it is another one, and not its own in another way
     */
    private function __construct(public string $name, private \Closure $sound, private bool $renames = true)
    {
    }

    /** From "shelf" and an id, "near" and a way, "recipe" and a name, "toward" an id and a "share"; or from "sound", as documents hold it. */
    public static function read(Fields $fields): self
    {
        return match (true) {
            $fields->has('shelf') => self::shelf($fields->text('shelf')),
            $fields->has('near') => self::near($fields->text('near')),
            $fields->has('recipe') => self::recipe($fields->text('recipe')),
            $fields->has('toward') => self::toward($fields->text('toward'), $fields->number('share', 0.0, 1.0)),
            default => self::given($fields),
        };
    }

    /** As it is asked for in an address: "shelf/ID", "near/WAY", "recipe/NAME", "toward/ID/PERCENT". */
    public static function named(string $name): self
    {
        [$how, $id, $percent] = [...explode('/', $name), '', '', ''];

        return match ($how) {
            'shelf' => self::shelf($id),
            'near' => self::near($id),
            'recipe' => self::recipe($id),
            'toward' => self::toward($id, max(0.0, min(1.0, (float) $percent / 100.0))),
            default => throw InvalidChange::field('hear', 'must name a sound as shelf/ID, near/WAY, recipe/NAME or toward/ID/PERCENT.'),
        };
    }

    /** The sound in place of one: what that is heard through stays, and in a stack its place there. */
    public function for(Keys $keys): Keys
    {
        $sound = ($this->sound)($keys);
        $place = [] === $keys->stack && '' === $keys->name ? [] : ['low' => $keys->low, 'high' => $keys->high, 'blend' => $keys->blend, 'stack' => $keys->stack, 'name' => $this->renames ? $this->name : $keys->name];

        return $sound->with(['channel' => $keys->channel, ...$place]);
    }

    /** The sound as one more of a stack. */
    public function over(Keys $keys): Keys
    {
        return ($this->sound)($keys)->with(['channel' => $keys->channel, 'name' => mb_substr($this->name, 0, 80), 'stack' => []]);
    }

    private static function shelf(string $id): self
    {
        $sound = Shelf::find($id) ?? throw InvalidChange::field('shelf', 'must be a sound of the shelf.');

        return new self($sound->name, static fn (Keys $keys): Keys => $sound->keys);
    }

    private static function near(string $way): self
    {
        $name = Nearby::WAYS[$way] ?? throw InvalidChange::field('near', 'must be one of: '.implode(', ', array_keys(Nearby::WAYS)).'.');

        return new self($name, static fn (Keys $keys): Keys => Nearby::going($keys, $way), false);
    }

    private static function recipe(string $name): self
    {
        $label = Recipes::ALL[$name] ?? throw InvalidChange::field('recipe', 'must be one of: '.implode(', ', array_keys(Recipes::ALL)).'.');

        return new self($label, static fn (Keys $keys): Keys => Recipes::of($keys, $name), false);
    }

    private static function toward(string $id, float $share): self
    {
        $sound = Shelf::find($id) ?? throw InvalidChange::field('toward', 'must be a sound of the shelf.');

        return new self('Toward '.$sound->name, static fn (Keys $keys): Keys => Nearby::between($keys, $sound->keys, $share), false);
    }

    private static function given(Fields $fields): self
    {
        $sound = KitCodec::keys($fields->nested('sound'));

        return new self($fields->has('name') ? $fields->text('name') : 'Another sound', static fn (Keys $keys): Keys => $sound);
    }
}
