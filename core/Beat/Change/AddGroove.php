<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Codec\PatternCodec;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Pattern\Groove;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\Note;
use Pestle\Core\Pattern\Pattern;

/**
 * Brings a groove into the beat: one that is given, one that was played somewhere (ticks and loudness), or what a lane
 * of a pattern, or all of it, plays by now. It may be laid at once over patterns.
 */
final readonly class AddGroove implements Change
{
    /**
     * @param Groove|null  $groove where it is known already
     * @param list<string> $onto   patterns that are felt by it from now on
     */
    private function __construct(private string $id, private string $name, private ?Groove $groove, private ?string $pattern, private ?string $lane, private int $grid, private array $onto)
    {
    }

    public static function from(Fields $fields): self
    {
        $groove = match (true) {
            $fields->has('slots') => PatternCodec::groove($fields),
            $fields->has('played') => self::played($fields),
            default => null,
        };

        return new self(
            $fields->id('id'),
            $fields->text('name'),
            $groove,
            null === $groove ? $fields->id('pattern') : null,
            $fields->has('lane') ? $fields->id('lane') : null,
            $fields->whole('grid', 15, 3840),
            $fields->has('onto') ? $fields->ids('onto', Beat::MAX_PATTERNS) : [],
        );
    }

    private static function played(Fields $fields): Groove
    {
        $played = array_map(static fn (Fields $row): array => [$row->number('0', -1e7, 1e7), $row->number('1', 0.0, 1e6)], $fields->rows('played', 5000));
        try {
            return Groove::taken($fields->id('id'), $fields->text('name'), $fields->whole('grid', 15, 3840), $fields->whole('ticks', 15, Pattern::MAX_TICKS), $played);
        } catch (\InvalidArgumentException $e) {
            throw new InvalidChange($e->getMessage());
        }
    }

    public function apply(Beat $beat): Beat
    {
        $groove = $this->groove ?? $this->taken($beat);
        if ([] === array_filter($groove->slots)) {
            throw new InvalidChange('Nothing is played there that a groove could be taken from.');
        }
        $beat = $beat->with(['grooves' => array_replace($beat->grooves, [$this->id => $groove])]);
        foreach ($this->onto as $id) {
            $pattern = $beat->pattern($id);
            $beat = $beat->withPattern($pattern->with(['feel' => $pattern->feel->with(['groove' => $this->id])]));
        }

        return $beat;
    }

    private function taken(Beat $beat): Groove
    {
        $pattern = $beat->pattern((string) $this->pattern);
        $events = array_filter([...$pattern->hits, ...$pattern->notes], fn (Hit|Note $e): bool => null === $this->lane || $pattern->feltBy($e) === $this->lane);
        $played = array_map(static function (Hit|Note $event) use ($beat, $pattern): array {
            $as = $beat->feeling($pattern->feelFor($event))->played($event);

            return [$as->tick + $as->fine / Hit::FINE, $as->velocity / 127.0];
        }, array_values($events));

        return Groove::taken($this->id, $this->name, $this->grid, $pattern->ticks, $played);
    }

    public function label(Beat $beat): string
    {
        return 'Groove '.$this->name;
    }

    public function touches(): array
    {
        return ['groove/'.$this->id, ...array_map(static fn (string $id): string => 'pattern/'.$id, $this->onto)];
    }
}
