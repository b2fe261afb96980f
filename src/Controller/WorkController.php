<?php

namespace Pestle\App\Controller;

use Pestle\App\Machines\MachinesSeen;
use Pestle\App\Queue\Work;
use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;

/** What is at work in the background: looked at, called off, and tried again or let go where it was given up. */
#[Route('/jobs')]
final class WorkController extends AbstractController
{
    public function __construct(private readonly Work $work, private readonly MachinesSeen $seen)
    {
    }

    #[Route(methods: 'GET')]
    public function list(): Response
    {
        $jobs = $this->work->all();
        $response = $this->render('parts/jobs.html.twig', ['jobs' => $jobs, 'machines' => $this->seen->machines($jobs), 'problem' => $this->seen->problem()]);
        $response->headers->set('Cache-Control', 'no-store');

        return $response;
    }

    #[Route('/{id}/again', requirements: ['id' => '\d{1,9}'], methods: 'POST')]
    public function again(int $id): Response
    {
        $this->work->again($id);

        return $this->list();
    }

    #[Route('/{id}/let-go', requirements: ['id' => '\d{1,9}'], methods: 'POST')]
    public function letGo(int $id): Response
    {
        $this->work->letGo($id);

        return $this->list();
    }
}
