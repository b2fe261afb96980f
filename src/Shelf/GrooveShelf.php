<?php

namespace Pestle\App\Shelf;

use Doctrine\ORM\EntityManagerInterface;
use Pestle\App\Entity\ShelvedGroove;
use Pestle\Core\Pattern\Groove;

/** Grooves that are kept for any beat; one of a name, the newest. */
final readonly class GrooveShelf
{
    public function __construct(private EntityManagerInterface $entities)
    {
    }

    /** @return list<ShelvedGroove> by name */
    public function all(): array
    {
        return $this->entities->getRepository(ShelvedGroove::class)->findBy([], ['name' => 'ASC']);
    }

    public function keep(Groove $groove): void
    {
        $this->take($groove->name);
        $this->entities->persist(new ShelvedGroove($groove->name, $groove->grid, $groove->slots));
        $this->entities->flush();
    }

    public function take(string $name): void
    {
        foreach ($this->entities->getRepository(ShelvedGroove::class)->findBy(['name' => $name]) as $old) {
            $this->entities->remove($old);
        }
        $this->entities->flush();
    }
}
