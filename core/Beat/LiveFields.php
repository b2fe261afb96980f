<?php

namespace Pestle\Core\Beat;

use Pestle\Core\Song\HeldEffect;
use Pestle\Core\Song\LiveChoice;
use Pestle\Core\Song\LiveSet;
use Pestle\Core\Song\Part;

/** A performance from untrusted fields: choices with their ticks, the first at 0. */
final class LiveFields
{
    /** Two hours at 300 beats a minute. */
    public const MOST_TICKS = 36_000 * 960;

    /** @throws InvalidChange */
    public static function read(Fields $fields): LiveSet
    {
        $choices = array_map(self::choice(...), $fields->rows('choices', LiveSet::MOST));
        $set = LiveSet::of($choices);

        return 0 === ($set->choices[0]->tick ?? null) ? $set : throw InvalidChange::field('choices', 'must begin at tick 0.');
    }

    private static function choice(Fields $c): LiveChoice
    {
        $patterns = $muted = [];
        $cells = $c->nested('patterns');
        foreach ($cells->keys() as $part) {
            $patterns[$part] = $cells->has($part) ? $cells->id($part) : null;
        }
        $mutes = $c->nested('muted');
        foreach ($mutes->keys() as $part) {
            $muted[$part] = $mutes->flag($part);
        }
        $held = [];
        $effects = $c->has('held') ? $c->nested('held') : new Fields([]);
        foreach ($effects->keys() as $effect) {
            $held[self::effect($effect)] = $effects->flag($effect);
        }
        if (\count($patterns) > Part::MOST || \count($muted) > Part::MOST || \count($held) > \count(HeldEffect::cases()) * (1 + Part::MOST)) {
            throw InvalidChange::field('choices', \sprintf('must name at most %d parts.', Part::MOST));
        }

        return new LiveChoice($c->id('id'), $c->whole('tick', 0, self::MOST_TICKS), $patterns, $muted, $held);
    }

    /**
     * @param string $name of an effect, with the part it is held over behind a slash where that is not everything
     *
     * @throws InvalidChange
     */
    public static function effect(string $name): string
    {
        $named = explode('/', $name, 2);
        $known = HeldEffect::tryFrom($named[0]);
        $part = $named[1] ?? '';
        if (null === $known || (isset($named[1]) && !Fields::isId($part))) {
            throw InvalidChange::field('held', 'must be one of: '.implode(', ', array_column(HeldEffect::cases(), 'value')).'.');
        }

        return $known->of($part);
    }
}
