<?php

namespace Pestle\Core\Render;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Timeline;
use Pestle\Core\Mix\Master;
use Pestle\Core\Mix\Node;
use Pestle\Core\Mix\Timing;
use Pestle\Core\Song\Movement;

/** The lines of a beat's mixer as they are over each segment, given what moves. */
final class Lines
{
    /** @var array<string, Line> by id, and by id and values where movements stand still */
    private array $fixed = [];
    /** @var array<string, array<string, non-empty-list<Movement>>> by line and path within it, the innermost first */
    private array $moving = [];

    private readonly Timing $timing;

    /** @param int|null $loopFrames length of what goes round */
    public function __construct(private readonly Beat $beat, ?int $loopFrames = null)
    {
        $this->timing = new Timing((float) Beat::SAMPLE_RATE, $beat->tempo, $loopFrames, $beat->rules);
        $movements = array_values($beat->movements->only(static fn (Movement $m): bool => $m->on)->all);
        usort($movements, static fn (Movement $a, Movement $b): int => $b->scope->depth() <=> $a->scope->depth());
        foreach ($movements as $movement) {
            [$mixer, $line, $rest] = [...explode('/', $movement->path, 3), '', ''];
            // What an older version let move and this one does not know stays as it is set.
            if ('mixer' === $mixer && self::moves($beat->mixer->line($line), $rest)) {
                $this->moving[$line][$rest][] = $movement;
            }
        }
    }

    private static function moves(Node|Master|null $line, string $path): bool
    {
        $holder = basename($path) === $path ? $line : $line?->inner()[\dirname($path)] ?? null;

        $parameter = null === $holder ? null : $holder::parameters()[basename($path)] ?? null;

        return null !== $parameter && $parameter->moves;
    }

    /** How long the slowest insert of a beat is heard after its sound has ended, in seconds, wherever what moves it goes. */
    public static function rings(Beat $beat): float
    {
        $tempo = Timeline::song($beat)->slowest();
        $seconds = $beat->mixer->rings($tempo);
        foreach ([-1.0, 1.0] as $way) {
            $mixer = $beat->mixer;
            foreach ($beat->movements->only(static fn (Movement $m): bool => $m->on && $m->movesMixer())->all as $movement) {
                [, $id, $path] = [...explode('/', $movement->path, 3), '', ''];
                $line = $mixer->line($id);
                if (null !== $line && self::moves($line, $path)) {
                    $mixer = $mixer->withLine(Line::set($line, $path, $way * max(array_map(static fn (array $point): float => $way * $point[1], $movement->curve->points))));
                }
            }
            $seconds = max($seconds, $mixer->rings($tempo));
        }

        return $seconds;
    }

    private static function set(Node|Master $line, string $path): float
    {
        $holder = basename($path) === $path ? $line : $line->inner()[\dirname($path)] ?? null;
        $value = $holder?->settings()[basename($path)] ?? null;

        return is_numeric($value) ? (float) $value : 0.0;
    }

    /** The line as it is set, where nothing moves. */
    public function still(string $id): Line
    {
        return $this->fixed[$id] ??= Line::fixed($this->line($id), $this->timing);
    }

    public function at(string $id, Segment $segment): Line
    {
        $line = $this->line($id);
        // What goes by the beat is another wherever the tempo is.
        $timing = null !== $segment->time && Line::goesByTime($line->inserts) ? $this->timing->at($segment->time) : $this->timing;
        if (!isset($this->moving[$id])) {
            return $timing === $this->timing ? $this->still($id) : Line::fixed($line, $timing);
        }
        $moving = [];
        $name = $id;
        foreach ($this->moving[$id] as $path => $movements) {
            $slice = Slice::of($movements, self::set($line, $path), $this->beat, $segment);
            if (null === $slice) {
                continue;
            }
            if ($slice->isStill()) {
                $line = Line::set($line, $path, $slice->values[0]);
                $name .= ' '.$path.' '.$slice->values[0];
            } else {
                $moving[$path] = $slice->values;
            }
        }
        if ([] !== $moving) {
            return Line::moving($line, $moving, $segment->frames, $timing);
        }
        if ($timing !== $this->timing) {
            return Line::fixed($line, $timing);
        }
        if (\count($this->fixed) > 2 * \count($this->beat->mixer->nodes) + 64) {
            $this->fixed = [];
        }

        return $this->fixed[$name] ??= Line::fixed($line, $this->timing);
    }

    private function line(string $id): Node|Master
    {
        return $this->beat->mixer->line($id) ?? throw new \LogicException('No such line: '.$id);
    }
}
