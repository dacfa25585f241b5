<?php

declare(strict_types=1);

namespace Ypomna\App\People;

use Psr\Clock\ClockInterface;
use Psr\Log\LoggerInterface;
use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\Mailer\Exception\TransportExceptionInterface;
use Symfony\Component\Mailer\MailerInterface;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;
use Symfony\Component\Messenger\MessageBusInterface;
use Symfony\Component\Messenger\Stamp\DelayStamp;
use Symfony\Component\Mime\Address;
use Symfony\Component\Mime\Email;
use Symfony\Component\Routing\Generator\UrlGeneratorInterface;
use Symfony\Contracts\Translation\TranslatorInterface;
use Twig\Environment;
use Ypomna\App\Capture\Entity\CaptureJob;
use Ypomna\App\Capture\JobList;
use Ypomna\App\Exchange\Arrivals;
use Ypomna\App\Exchange\Entity\Arrival;
use Ypomna\App\People\Entity\Person;
use Ypomna\App\People\Message\AnswerMail;
use Ypomna\App\People\Value\TakenMail;

/** Answers whoever sent something by mail: once, when all of it has ended, or when that takes too long. */
final readonly class MailAnswers
{
    /** How often it is looked whether all has ended, in milliseconds, and for how long, in seconds. */
    private const TICK = 10_000;
    private const PATIENCE = 1_800;

    public function __construct(
        private PersonRepository $people,
        private JobList $jobs,
        private Arrivals $arrivals,
        private MailerInterface $mailer,
        private MessageBusInterface $bus,
        private Environment $twig,
        private TranslatorInterface $translator,
        private UrlGeneratorInterface $routes,
        private ClockInterface $realTime,
        private LoggerInterface $logger,
        #[Autowire('%env(MAIL_FROM)%')] private string $from,
    ) {
    }

    #[AsMessageHandler]
    public function answer(AnswerMail $message): void
    {
        $taken = TakenMail::ofText($message->taken);
        $person = null === $taken->person ? null : $this->people->named($taken->person);
        if (null === $person || $person->isClosed()) {
            return;
        }
        [$jobs, $files] = $this->under($person, $taken);
        $open = array_filter([...array_column($jobs, 1), ...array_column($files, 1)], self::isOpen(...));
        if ([] !== $open && $this->realTime->now()->getTimestamp() - $message->since < self::PATIENCE) {
            $this->bus->dispatch($message, [new DelayStamp(self::TICK)]);

            return;
        }
        try {
            $this->mailer->send($this->mail($message, $person, $taken->refused, $jobs, $files));
        } catch (TransportExceptionInterface $e) {
            // What was taken in stays; it waits in the intake all the same.
            $this->logger->error('The answer to a mail could not be sent.', ['exception' => $e]);
        }
    }

    /** @return array{list<array{string, CaptureJob|null}>, list<array{string, Arrival|null}>} of addresses and of files, as they are now */
    private function under(Person $person, TakenMail $taken): array
    {
        $viewer = $this->people->viewer($person->name);
        $jobs = $files = [];
        foreach ($taken->jobs as $url => $code) {
            $jobs[] = [(string) $url, $this->jobs->byCode($viewer, $code)];
        }
        foreach ($taken->files as [$name, $code]) {
            $files[] = [$name, null === $code ? null : $this->arrivals->seen($viewer, $code)];
        }

        return [$jobs, $files];
    }

    private static function isOpen(CaptureJob|Arrival|null $work): bool
    {
        return match (true) {
            $work instanceof CaptureJob => !$work->stage->isFinal(),
            $work instanceof Arrival => !$work->state->isFinal(),
            default => false,
        };
    }

    /**
     * @param array<string, string> $refused why addresses were not captured
     * @param list<array{string, CaptureJob|null}> $jobs
     * @param list<array{string, Arrival|null}> $files
     */
    private function mail(AnswerMail $message, Person $person, array $refused, array $jobs, array $files): Email
    {
        $subject = '' === $message->subject ? '–' : mb_strimwidth($message->subject, 0, 200, '…');
        $mail = (new Email())->from(new Address($this->from, 'Ypomna'))->to($message->to)->date($this->realTime->now())
            ->subject($this->translator->trans('people.mail_taken_subject', ['subject' => $subject]))
            ->text($this->twig->render('people/mail_taken.txt.twig', [
                'name' => $person->name, 'refused' => $refused, 'files' => $files, 'jobs' => $jobs,
                'intake' => $this->routes->generate('intake_list', [], UrlGeneratorInterface::ABSOLUTE_URL),
            ]));
        $mail->getHeaders()->addTextHeader('Auto-Submitted', 'auto-replied');
        if (1 === preg_match('/<[!-;=?-~]{1,500}>/', $message->id, $m)) {
            $mail->getHeaders()->addTextHeader('In-Reply-To', $m[0]);
        }

        return $mail;
    }
}
