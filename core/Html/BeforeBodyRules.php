<?php

declare(strict_types=1);

namespace Ypomna\Core\Html;

/**
 * What stands before the body (HTML Living Standard, sections 13.2.6.4.1 to 13.2.6.4.6).
 *
 * @internal
 */
final class BeforeBodyRules
{
    public static function initial(Construction $at, Token $token): void
    {
        if (TokenKind::Doctype === $token->kind) {
            $at->quirks = 'html' !== $token->name || 1 === preg_match('~^-(?://(?:ietf//dtd html|w3c//dtd (?:html (?:3|4\.0 (?:transitional|frameset)|experimental)|w3 html)|w3o//|netscape|microsoft|webtechs|spyglass|sq//|softquad|sun microsystems|o\'reilly|advasoft|as//|metrius)|/w3c/dtd html 4\.0 transitional/en)~', $token->text);
            $at->mode = Mode::BeforeHtml;

            return;
        }
        if (TokenKind::Text === $token->kind) {
            [, $token] = Construction::parted($token);
        }
        if (null !== $token) {
            $at->quirks = true;
            $at->again(Mode::BeforeHtml, $token);
        }
    }

    public static function beforeHtml(Construction $at, Token $token): void
    {
        if (TokenKind::Text === $token->kind) {
            [, $token] = Construction::parted($token);
        }
        if (null === $token || TokenKind::Doctype === $token->kind || (TokenKind::End === $token->kind && !isset(['head' => 1, 'body' => 1, 'html' => 1, 'br' => 1][$token->name]))) {
            return;
        }
        if (TokenKind::Start === $token->kind && 'html' === $token->name) {
            $at->planter->open($token);
            $at->mode = Mode::BeforeHead;

            return;
        }
        $at->planter->open(new Token(TokenKind::Start, 'html'));
        $at->again(Mode::BeforeHead, $token);
    }

    public static function beforeHead(Construction $at, Token $token): void
    {
        if (TokenKind::Text === $token->kind) {
            [, $token] = Construction::parted($token);
        }
        if (null === $token || TokenKind::Doctype === $token->kind || (TokenKind::End === $token->kind && !isset(['head' => 1, 'body' => 1, 'html' => 1, 'br' => 1][$token->name]))) {
            return;
        }
        if (TokenKind::Start === $token->kind && 'html' === $token->name) {
            $at->moreOfHtml($token);

            return;
        }
        $isHead = TokenKind::Start === $token->kind && 'head' === $token->name;
        $at->head = $at->planter->open($isHead ? $token : new Token(TokenKind::Start, 'head'));
        $at->mode = Mode::InHead;
        if (!$isHead) {
            $at->process($token);
        }
    }

    public static function inHead(Construction $at, Token $token): void
    {
        if (TokenKind::Doctype === $token->kind) {
            return;
        }
        $token = $at->behindSpace($token);
        if (null === $token) {
            return;
        }
        if (TokenKind::Start === $token->kind) {
            if ('html' === $token->name) {
                $at->moreOfHtml($token);

                return;
            }
            if (isset(Kinds::IN_HEAD[$token->name]) || 'noscript' === $token->name) {
                $at->headElement($token);

                return;
            }
            if ('head' === $token->name) {
                return;
            }
        }
        if (TokenKind::End === $token->kind) {
            if ('template' === $token->name) {
                $at->endTemplate();

                return;
            }
            if (!isset(['head' => 1, 'body' => 1, 'html' => 1, 'br' => 1][$token->name])) {
                return;
            }
        }
        $at->stack->pop();
        $at->mode = Mode::AfterHead;
        if (TokenKind::End !== $token->kind || 'head' !== $token->name) {
            $at->process($token);
        }
    }

    public static function afterHead(Construction $at, Token $token): void
    {
        if (TokenKind::Doctype === $token->kind) {
            return;
        }
        $token = $at->behindSpace($token);
        if (null === $token) {
            return;
        }
        if (TokenKind::Start === $token->kind) {
            if ('html' === $token->name) {
                $at->moreOfHtml($token);

                return;
            }
            if ('body' === $token->name || 'frameset' === $token->name) {
                $at->planter->open($token);
                $at->framesetOk = $at->framesetOk && 'body' !== $token->name;
                $at->mode = 'body' === $token->name ? Mode::InBody : Mode::InFrameset;

                return;
            }
            if (isset(Kinds::IN_HEAD[$token->name]) && null !== $at->head) {
                $head = $at->head;
                $at->stack->push($head);
                $at->headElement($token);
                $at->stack->remove($head);

                return;
            }
            if ('head' === $token->name) {
                return;
            }
        }
        if (TokenKind::End === $token->kind && !isset(['body' => 1, 'html' => 1, 'br' => 1][$token->name])) {
            if ('template' === $token->name) {
                $at->endTemplate();
            }

            return;
        }
        $at->planter->open(new Token(TokenKind::Start, 'body'));
        $at->again(Mode::InBody, $token);
    }
}
