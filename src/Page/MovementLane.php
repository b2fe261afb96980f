<?php

namespace Pestle\App\Page;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Parameters;
use Pestle\Core\Mix\Node;
use Pestle\Core\Song\Movement;
use Pestle\Core\Song\Scope;
use Pestle\Core\Song\Section;
use Pestle\Core\Theory\Parameter;

/** A movement as it is drawn: what it moves, where it is heard, and by which scale. */
final readonly class MovementLane
{
    public string $name;
    public string $owner;
    public Parameter $parameter;
    public float $set;

    /**
     * @param list<array{int, int, int}> $spans  where it is heard: tick of the song, how long, from which of its own ticks on
     * @param list<array{int, int}>      $hidden where another is heard in its place
     */
    public function __construct(private Beat $beat, public Movement $movement, public array $spans, private array $hidden)
    {
        $setting = Parameters::at($beat, $movement->path);
        $this->name = $setting->parameter->name;
        $this->owner = $setting->owner;
        $this->parameter = $setting->parameter;
        $this->set = is_numeric($setting->value) ? (float) $setting->value : 0.0;
    }

    public function id(): string
    {
        return $this->movement->id();
    }

    public function colour(): string
    {
        $line = $this->beat->mixer->line(explode('/', $this->movement->path)[1] ?? '');

        return ($line instanceof Node ? $line->colour : null) ?? ['song' => 'tide', 'section' => 'basil', 'pattern' => 'plum'][$this->movement->scope->value];
    }

    /** Where it belongs, in words. */
    public function where(): string
    {
        return match ($this->movement->scope) {
            Scope::Song => 'over the song',
            Scope::Section => 'in '.($this->beat->sections[$this->movement->of] ?? null)?->name,
            Scope::Pattern => 'with '.($this->beat->patterns[$this->movement->of] ?? null)?->name,
        };
    }

    /** @return array<string, string> what changes of it say */
    public function fields(): array
    {
        return ['path' => $this->movement->path, 'scope' => $this->movement->scope->value, 'of' => $this->movement->of];
    }

    /** @return list<array{words: string, change: array<string, mixed>}> where else it could belong, given the section that is open */
    public function elsewhere(Section $section): array
    {
        $to = fn (Scope $scope, string $of): array => ['type' => 'carry-movement', ...$this->fields(), 'toPath' => $this->movement->path, 'toScope' => $scope->value, 'toOf' => $of];
        $out = [];
        if (Scope::Song !== $this->movement->scope) {
            $out[] = ['words' => 'over the song', 'change' => $to(Scope::Song, '')];
        }
        if ($this->movement->of !== $section->id) {
            $out[] = ['words' => 'in '.$section->name, 'change' => $to(Scope::Section, $section->id)];
        }
        // A pattern keeps to the tempo of what it is played in.
        foreach (Movement::TEMPO === $this->movement->path ? [] : $section->its($this->beat->patterns) as $pattern) {
            if ($this->movement->of !== $pattern->id) {
                $out[] = ['words' => 'with '.$pattern->name, 'change' => $to(Scope::Pattern, $pattern->id)];
            }
        }

        return $out;
    }

    /** @return array<string, mixed> the change that lets another parameter move so too */
    public function copyTo(string $path): array
    {
        return ['type' => 'carry-movement', ...$this->fields(), 'toPath' => $path, 'toScope' => $this->movement->scope->value, 'toOf' => $this->movement->of, 'copy' => 1];
    }

    /** @return array{float, float} the tempi around those it has: all that there are would leave them in a corner */
    private function around(): array
    {
        $tempi = [$this->set, ...array_column($this->movement->curve->points, 1)];

        return [max($this->parameter->least, floor(0.6 * min($tempi))), min($this->parameter->most, ceil(1.5 * max($tempi)))];
    }

    /** @return array<string, mixed> what drawing it takes */
    public function forScripts(): array
    {
        $p = $this->parameter;
        [$least, $most] = Movement::TEMPO === $this->movement->path ? $this->around() : [$p->least, $p->most];

        return [
            ...$this->fields(),
            'id' => $this->id(),
            'points' => $this->movement->curve->points,
            'spans' => $this->spans,
            'hidden' => $this->hidden,
            'least' => $least,
            'most' => $most,
            'bounds' => [$p->least, $p->most],
            'bend' => $p->bend,
            'step' => $p->step,
            'places' => max(1, $p->places),
            'unit' => $p->unit,
            'set' => $this->set,
            'on' => $this->movement->on,
            'colour' => $this->colour(),
        ];
    }
}
