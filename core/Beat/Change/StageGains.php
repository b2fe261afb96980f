<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\Parameters;
use Pestle\Core\Mix\FaderPlace;
use Pestle\Core\Mix\HarmonicsSettings;
use Pestle\Core\Mix\InsertSettings;
use Pestle\Core\Mix\LimiterSettings;
use Pestle\Core\Mix\Master;
use Pestle\Core\Mix\Node;
use Pestle\Core\Mix\NodeKind;
use Pestle\Core\Mix\SaturationSettings;
use Pestle\Core\Mix\Send;
use Pestle\Core\Song\Movement;
use Pestle\Core\Theory\Curve;
use Pestle\Core\Theory\Parameter;
use Pestle\Core\Theory\Settable;

/**
 * All channels louder or softer by as much, the master the other way: balance and sound stay. Thresholds behind the
 * faders move along, and what saturates is driven as before; a converter's steps do not move.
 */
final readonly class StageGains implements Change
{
    private function __construct(private float $byDb)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->number('byDb', -40.0, 40.0));
    }

    public function apply(Beat $beat): Beat
    {
        $mixer = $beat->mixer;
        foreach ($mixer->nodes as $node) {
            $mixer = $mixer->withLine(NodeKind::Channel === $node->kind ? $this->channel($node) : $this->behind($node));
        }
        $this->fits('Master', $mixer->master->gainDb - $this->byDb, Master::parameters()['gainDb']);
        $master = FaderPlace::Before === $mixer->master->fader ? $mixer->master : $this->behind($mixer->master);

        return self::along($beat, $beat->withMixer($mixer->withLine(self::moved($master, 'gainDb', -$this->byDb))));
    }

    /** What moves is moved by as much as it is set otherwise. */
    private static function along(Beat $before, Beat $after): Beat
    {
        return $after->with(['movements' => $after->movements->each(static function (Movement $m) use ($before, $after): Movement {
            [$was, $is] = [Parameters::find($before, $m->path), Parameters::find($after, $m->path)];
            $by = is_numeric($was?->value) && is_numeric($is?->value) ? $is->value - $was->value : 0.0;

            return null === $is || 0.0 === (float) $by ? $m : $m->with(['curve' => new Curve(array_map(static fn (array $p): array => [$p[0], max($is->parameter->least, min($is->parameter->most, $p[1] + $by)), $p[2]], $m->curve->points))]);
        })]);
    }

    private function channel(Node $node): Node
    {
        $this->fits($node->name, $node->gainDb + $this->byDb, Node::parameters()['gainDb']);
        $sends = array_map(fn (Send $send): Send => $send->beforeFader ? self::moved($send, 'gainDb', $this->byDb) : $send, $node->sends);

        return self::moved($node->with(['sends' => $sends]), 'gainDb', $this->byDb);
    }

    /** A level that went less far than the others would change the balance. */
    private function fits(string $name, float $gainDb, Parameter $level): void
    {
        if ($gainDb < $level->least || $gainDb > $level->most) {
            throw new InvalidChange(\sprintf('%s would be at %+.1f dB; it goes from %d to %d dB.', $name, $gainDb, $level->least, $level->most));
        }
    }

    /**
     * @template T of Node|Master
     *
     * @param T $line
     *
     * @return T
     */
    private function behind(Node|Master $line): Node|Master
    {
        foreach ($line->inserts as $insert) {
            // What another line steers hears that one before its fader.
            if (null === $insert->key()) {
                $line = $line->withInsert($this->insert($insert));
            }
        }

        return $line;
    }

    private function insert(InsertSettings $insert): InsertSettings
    {
        // Half of a drive is taken back behind the curve: the other half is what its level lacks.
        return match (true) {
            $insert instanceof SaturationSettings => self::moved(self::moved($insert, 'driveDb', -$this->byDb), 'outputDb', 0.005 * $insert->mix * $this->byDb),
            $insert instanceof HarmonicsSettings => self::moved(self::moved($insert, 'driveDb', -$this->byDb), 'addedDb', 0.5 * $this->byDb),
            $insert instanceof LimiterSettings => self::moved($insert, 'ceilingDb', $this->byDb),
            default => self::moved($insert, 'thresholdDb', $this->byDb),
        };
    }

    /**
     * As far as its range goes.
     *
     * @template T of Settable
     *
     * @param T $what
     *
     * @return T
     */
    private static function moved(Settable $what, string $field, float $byDb): Settable
    {
        $parameter = $what::parameters()[$field] ?? null;
        $value = $what->settings()[$field] ?? null;

        return null === $parameter || !\is_float($value) ? $what : $what->with([$field => max($parameter->least, min($parameter->most, round($value + $byDb, 1)))]);
    }

    public function label(Beat $beat): string
    {
        return \sprintf('All channels by %+.1f dB, the master by %+.1f dB', $this->byDb, -$this->byDb);
    }

    public function touches(): array
    {
        return ['mixer'];
    }
}
