<?php

namespace Pestle\App\Controller;

use Pestle\App\Storage\Space;
use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\RedirectResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;

/** What takes how much of the disk. */
#[Route('/space')]
final class SpaceController extends AbstractController
{
    public function __construct(private readonly Space $space)
    {
    }

    #[Route('', methods: 'GET')]
    public function show(Request $request): Response
    {
        return $this->render('space/index.html.twig', ['parts' => $this->space->parts(), 'freed' => $request->query->has('freed') ? (int) $request->query->get('freed') : null]);
    }

    #[Route('/{part}', requirements: ['part' => '[a-z]+'], methods: 'POST')]
    public function clear(string $part): Response
    {
        return new RedirectResponse('/space?freed='.$this->space->clear($part), 303);
    }
}
