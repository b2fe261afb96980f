<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Theory\Curve;
use Pestle\Core\Theory\Thinning;

/**
 * What was moved by hand becomes how it moves: while it was touched, from then on, or all over. Few points of it are kept.
 */
final readonly class WriteMovement implements Change
{
    /** As many as a minute has at sixty moves a second, times ten. */
    private const MOST = 36_000;
    /** How far off, as a share of its range, what is left out may lie. */
    private const NEAR = 0.005;
    private const HOW = ['touched', 'on', 'all'];

    /** @param non-empty-list<array{float, float}> $written tick and value, in order */
    private function __construct(private Moving $moving, private array $written, private string $how)
    {
    }

    public static function from(Fields $fields): self
    {
        $written = [];
        foreach ($fields->rows('points', self::MOST) as $row) {
            $written[] = [$row->number('0', 0, 1e9), $row->number('1', -1e6, 1e6)];
        }
        usort($written, static fn (array $a, array $b): int => $a[0] <=> $b[0]);
        $how = $fields->has('how') ? $fields->text('how') : 'touched';

        return new self(
            Moving::from($fields),
            [] === $written ? throw InvalidChange::field('points', 'must hold at least one point.') : $written,
            \in_array($how, self::HOW, true) ? $how : throw InvalidChange::field('how', 'must be one of: '.implode(', ', self::HOW).'.'),
        );
    }

    public function apply(Beat $beat): Beat
    {
        $parameter = $this->moving->setting($beat)->parameter;
        $written = array_map(static fn (array $p): array => [$p[0], $p[1], 0.0], Thinning::of($this->written, self::NEAR * ($parameter->most - $parameter->least)));
        $was = $this->moving->curve($beat);
        [$from, $to] = [$this->written[0][0], $this->written[\count($this->written) - 1][0]];
        $before = 'all' === $this->how || $from <= 0.0 ? [] : $was->piece(0.0, $from);
        // After it was let go it is as it was.
        $last = $was->points[\count($was->points) - 1][0];
        $after = 'touched' === $this->how ? array_map(static fn (array $p): array => [$to + $p[0], $p[1], $p[2]], \array_slice($was->piece($to, max($last, $to) + 1.0), 0, -1)) : [];
        if ([] !== $after) {
            [$tick, $value] = array_pop($written);
            $written[] = [$tick, $value, 1.0];
        }
        $points = [...$before, ...$written, ...$after];

        return \count($points) > Curve::MOST_POINTS
            ? throw new InvalidChange(\sprintf('That would be %s points; a movement has at most %s. Empty a stretch of it first.', number_format(\count($points)), number_format(Curve::MOST_POINTS)))
            : $this->moving->moved($beat, $points);
    }

    public function label(Beat $beat): string
    {
        return $this->moving->words($beat).' written';
    }

    public function touches(): array
    {
        return $this->moving->touches();
    }
}
