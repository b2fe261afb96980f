<?php

namespace Pestle\Core\Kit;

/** What moves what: a setting of a sound that is another one for each note, by what the note brings along. */
final readonly class Route
{
    /** Of one sound. */
    public const MOST = 16;
    /** Places on a slider that are told apart: notes that come to the same one are worked out once. */
    private const PLACES = 64.0;
    /** What decides whether a note sounds at all, and what has routes of its own. */
    private const SETTLED = '~^(?:stack/|zones/|low$|high$|voices$)~';

    /**
     * @param string $to     path of a number within the sound: "filter/resonance", "waves/1/depth"
     * @param float  $amount -1 to 1: by how much of its slider at the most
     */
    public function __construct(public RoutedBy $by, public string $to, public float $amount)
    {
    }

    /**
     * A sound as a note finds it, and what is stacked on it. What a route names and its sound has no more does nothing.
     *
     * @param int   $velocity 1 to 127
     * @param float $chance   0 to 1, by the note
     * @param float $step     how far into its bar the note is written, 0 to 1
     */
    public static function at(Keys $keys, int $pitch, int $velocity, float $chance, float $step): Keys
    {
        $by = static fn (self $route): float => match ($route->by) {
            RoutedBy::Strength => $velocity / 127.0,
            RoutedBy::Key => max(-1.0, min(1.0, ($pitch - 60) / 36.0)),
            RoutedBy::Chance => 2.0 * $chance - 1.0,
            RoutedBy::Step => $step,
        };
        $moved = self::moved($keys, $by);

        return [] === $keys->stack ? $moved : $moved->with(['stack' => array_map(static fn (Keys $other): Keys => self::moved($other, $by), $keys->stack)]);
    }

    /** @return list<Keys> a sound with all of it as low as it goes, and as high; none where nothing moves */
    public static function extremes(Keys $keys): array
    {
        return [] === $keys->routes ? [] : array_map(static fn (float $way): Keys => self::moved($keys, static fn (self $route): float => $route->amount < 0.0 ? -$way : $way), [-1.0, 1.0]);
    }

    /** @param callable(self): float $by -1 to 1 */
    private static function moved(Keys $keys, callable $by): Keys
    {
        $places = [];
        foreach ($keys->routes as $route) {
            $places[$route->to] = ($places[$route->to] ?? 0.0) + round(self::PLACES * $route->amount * $by($route)) / self::PLACES;
        }
        foreach (array_filter($places) as $path => $way) {
            $keys = self::set($keys, $path, $way);
        }

        return $keys;
    }

    private static function set(Keys $keys, string $path, float $way): Keys
    {
        if (1 === preg_match(self::SETTLED, $path)) {
            return $keys;
        }
        $field = basename($path);
        $under = $field === $path ? '' : \dirname($path);
        $inner = '' === $under ? $keys : $keys->inner()[$under] ?? null;
        $value = $inner?->settings()[$field] ?? null;
        if (null === $inner || !(\is_int($value) || \is_float($value))) {
            return $keys;
        }
        $parameter = $inner::parameters()[$field];
        $set = $inner->with([$field => $parameter->nearest($parameter->at($parameter->share((float) $value) + $way))]);

        return '' === $under ? $keys->with([$field => $set->settings()[$field]]) : $keys->withInner($under, $set);
    }

    /** @return array{by: string, to: string, amount: float} */
    public function toArray(): array
    {
        return ['by' => $this->by->value, 'to' => $this->to, 'amount' => $this->amount];
    }
}
