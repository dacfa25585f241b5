<?php

declare(strict_types=1);

namespace Ypomna\App\People;

use Psr\Clock\ClockInterface;
use Psr\Log\LoggerInterface;
use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\Mailer\Exception\TransportExceptionInterface;
use Symfony\Component\Mailer\MailerInterface;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;
use Symfony\Component\Mime\Address;
use Symfony\Component\Mime\Email;
use Symfony\Component\Routing\Generator\UrlGeneratorInterface;
use Symfony\Contracts\Translation\TranslatorInterface;
use Twig\Environment;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\Event\Reminded;
use Ypomna\App\People\Message\SendReset;
use Ypomna\App\Search\Event\NewlyFound;

/** Mails to people: invitations, links for a new password, and what is due. */
final readonly class PeopleMail
{
    public function __construct(
        private PersonRepository $people,
        private OnceLinks $links,
        private PeopleLog $log,
        private MailerInterface $mailer,
        private Environment $twig,
        private TranslatorInterface $translator,
        private UrlGeneratorInterface $routes,
        private ClockInterface $realTime,
        private LoggerInterface $logger,
        #[Autowire('%env(MAIL_FROM)%')] private string $from,
        #[Autowire('%env(MAILER_DSN)%')] private string $mailerDsn,
    ) {
    }

    /** Whether mail goes anywhere at all. */
    public function isSent(): bool
    {
        return !str_starts_with($this->mailerDsn, 'null:');
    }

    #[AsMessageHandler]
    public function sendReset(SendReset $message): void
    {
        $person = $this->people->named($message->typed);
        $found = null === $person || $person->isClosed() ? $this->people->byMail(trim($message->typed)) : [$person];
        foreach ($found as $one) {
            if (null !== $one->mail) {
                $this->log->note(LoggedAct::ResetAsked, $one->name);
                $this->send($one->mail, $this->translator->trans('people.mail_reset_subject'), 'people/mail_reset.txt.twig', [
                    'name' => $one->name, 'address' => $this->address($this->links->reset('', $one)),
                ]);
            }
        }
    }

    /** What is due comes by mail, too, to whoever has given an address. */
    #[AsEventListener]
    public function onReminded(Reminded $event): void
    {
        $person = $this->people->named($event->person);
        if (null === $person?->mail || $person->isClosed()) {
            return;
        }
        $items = array_map(fn (Item $item): array => [
            'title' => '' !== $item->title ? $item->title : $this->translator->trans('desk.without_a_title'),
            'due' => $item->due?->format('Y-m-d') ?? '',
            'address' => $this->routes->generate('item', ['code' => $item->code], UrlGeneratorInterface::ABSOLUTE_URL),
        ], $event->items);
        try {
            $this->mailer->send((new Email())->from(new Address($this->from, 'Ypomna'))->to($person->mail)->date($this->realTime->now())
                ->subject($this->translator->trans('people.mail_due_subject', ['n' => \count($items)]))
                ->text($this->twig->render('people/mail_due.txt.twig', ['name' => $person->name, 'items' => $items])));
        } catch (TransportExceptionInterface $e) {
            $this->logger->error('The mail about what is due could not be sent.', ['exception' => $e]);
        }
    }

    #[AsEventListener]
    public function onNewlyFound(NewlyFound $event): void
    {
        $person = $this->people->named($event->person);
        if (null === $person?->mail || $person->isClosed()) {
            return;
        }
        $this->send(
            $person->mail,
            $this->translator->trans('people.mail_found_subject', ['n' => $event->question->fresh, 'asked' => $event->question->asked]),
            'people/mail_found.txt.twig',
            [
                'name' => $person->name, 'asked' => $event->question->asked,
                'address' => $this->routes->generate('search', ['order' => 'newest'] + $event->question->query,
                    UrlGeneratorInterface::ABSOLUTE_URL),
            ],
        );
    }

    public function invite(string $mail, string $by, string $address): void
    {
        $this->send($mail, $this->translator->trans('people.mail_invitation_subject'), 'people/mail_invitation.txt.twig', [
            'by' => $by, 'address' => $address,
        ]);
    }

    /** Where a link that is used once leads. */
    public function address(string $key): string
    {
        return $this->routes->generate('sign_in_link', ['key' => $key], UrlGeneratorInterface::ABSOLUTE_URL);
    }

    /** Where the demo lets whoever has this address in as its investigator. */
    public function demoAddress(string $key): string
    {
        return $this->routes->generate('sign_in_demo', ['key' => $key], UrlGeneratorInterface::ABSOLUTE_URL);
    }

    /** @param array<string, string> $values */
    private function send(string $mail, string $subject, string $template, array $values): void
    {
        $this->mailer->send((new Email())->from(new Address($this->from, 'Ypomna'))->to($mail)->date($this->realTime->now())
            ->subject($subject)->text($this->twig->render($template, $values)));
    }
}
