<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Kit\Answer;
use Pestle\Core\Kit\Layer;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Kit\Role;
use Pestle\Core\Mix\Mixer;
use Pestle\Core\Mix\Node;
use Pestle\Core\Mix\NodeKind;

/** Puts a stretch of a sample on a pad. A free pad gets a channel; a filled one keeps its settings and its hits. */
final readonly class FillPad implements Change
{
    private function __construct(
        private string $pad,
        private string $sample,
        private string $name,
        private Role $role,
        private int $start,
        private int $end,
    ) {
    }

    public static function from(Fields $fields): self
    {
        return new self(
            $fields->id('pad'),
            $fields->hash('sample'),
            $fields->text('name'),
            $fields->choice('role', Role::class),
            $fields->frame('start'),
            $fields->frame('end', $fields->frame('start') + 1),
        );
    }

    public function apply(Beat $beat): Beat
    {
        if (!$beat->kit->hasPlace($this->pad)) {
            throw InvalidChange::field('pad', 'must be a place in one of the banks.');
        }
        $there = $beat->kit->pad($this->pad);
        $sound = new Layer($this->name, $this->sample, $this->start, $this->end);
        if (null !== $there) {
            return $beat->withKit($beat->kit->withPad($there->with(['name' => $this->name, 'role' => $this->role, 'layers' => [$sound], 'answer' => Answer::All])));
        }
        $channel = Node::channel($beat->mixer->nextId(NodeKind::Channel), $this->name, $this->role->isDrum() ? Mixer::DRUMS : null);

        return $beat
            ->withMixer($beat->mixer->with($channel))
            ->withKit($beat->kit->withPad(Pad::of($this->pad, $this->role, $channel->id, $sound)));
    }

    public function label(Beat $beat): string
    {
        return $this->name.' on a pad';
    }

    public function touches(): array
    {
        return ['kit/'.$this->pad, 'mixer/new'];
    }
}
