<?php

namespace Pestle\Core\Render;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Mix\Master;
use Pestle\Core\Mix\Node;
use Pestle\Core\Mix\Timing;
use Pestle\Core\Theory\Curve;

/** The lines of a beat's mixer as they are over each segment, given what moves. */
final class Lines
{
    /** @var array<string, Line> by id, and by id and values where curves stand still */
    private array $fixed = [];
    /** @var array<string, array<string, Curve>> by line and path within it */
    private array $curves = [];

    private readonly Timing $timing;

    /** @param int|null $loopFrames length of what goes round */
    public function __construct(private readonly Beat $beat, ?int $loopFrames = null)
    {
        $this->timing = new Timing((float) Beat::SAMPLE_RATE, $beat->tempo, $loopFrames, $beat->rules);
        foreach ($beat->curves as $path => $curve) {
            [$mixer, $line, $rest] = [...explode('/', $path, 3), '', ''];
            // What an older version let move and this one does not know stays as it is set.
            if ('mixer' === $mixer && self::moves($beat->mixer->line($line), $rest)) {
                $this->curves[$line][$rest] = $curve;
            }
        }
    }

    private static function moves(Node|Master|null $line, string $path): bool
    {
        $holder = basename($path) === $path ? $line : $line?->inner()[\dirname($path)] ?? null;

        $parameter = null === $holder ? null : $holder::parameters()[basename($path)] ?? null;

        return null !== $parameter && $parameter->moves;
    }

    /** The line as it is set, where nothing moves. */
    public function still(string $id): Line
    {
        return $this->fixed[$id] ??= Line::fixed($this->line($id), $this->timing);
    }

    public function at(string $id, Segment $segment): Line
    {
        if (!isset($this->curves[$id])) {
            return $this->still($id);
        }
        $line = $this->line($id);
        $moving = [];
        $name = $id;
        foreach ($this->curves[$id] as $path => $curve) {
            $slice = Slice::of($curve, $this->beat, $segment);
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
            return Line::moving($line, $moving, $segment->frames, $this->timing);
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
